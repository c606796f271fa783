import type { Block } from '../../core/blocks/block.ts'
import { walk } from '../../core/blocks/walk.ts'
import type { PageContent } from '../../core/pages/page.ts'

/** A page with one version of what it says. */
export interface ShownPage {
  id: number
  path: string
  name: string
  version: number
  content: PageContent
}

/** The forms that stand on a page, in reading order. */
export const formsIn = ({ document }: PageContent): Block<'form'>[] =>
  [...walk(document)].flatMap(({ block }) => (block.kind === 'form' ? [block] : []))

/** The form of a page with that block, or its first one. */
export function formIn(content: PageContent, block: string): Block<'form'> | undefined {
  const forms = formsIn(content)
  return forms.find(({ id }) => id === block) ?? forms[0]
}
