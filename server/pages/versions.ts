import type { Block } from '../../core/blocks/block.ts'
import { walk } from '../../core/blocks/walk.ts'
import type { PageContent } from '../../core/pages/page.ts'
import type { Queries } from '../database/connect.ts'

/** A page with one version of what it says. */
export interface ShownPage {
  id: number
  path: string
  name: string
  version: number
  content: PageContent
}

/** What a page says to its visitors, or will say: nobody has to wait for it to be published. */
export const publishedOrNewest = (q: Queries, page: number): Promise<ShownPage | undefined> =>
  q.row<ShownPage>(
    `select id, path, name, number as version, content from page join page_version on page_id = id
     where id = $1 order by number = published_version desc nulls last, number desc limit 1`,
    [page],
  )

/** The form of a page with that block, or its first one. */
export function formIn({ document }: PageContent, block: string): Block<'form'> | undefined {
  const forms = [...walk(document)].flatMap(({ block: each }) => (each.kind === 'form' ? [each] : []))
  return forms.find(({ id }) => id === block) ?? forms[0]
}
