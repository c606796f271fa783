import { freshBlock } from '../../core/blocks/block.ts'
import { freshSection } from '../../core/blocks/document.ts'
import { pageContent } from '../../core/pages/page.ts'
import type { PublishedForm } from '../../server/capture/publishedForms.ts'
import type { PublishedJunction } from '../../server/junctions/publishedJunctions.ts'
import { noPage } from '../pages/pageContext.ts'
import type { ShownPage } from '../../server/pages/versions.ts'

/** The block of the form that is asked first. */
export const askedBlock = 'askedfirst'

/** The form, with this junction behind it in the place of whatever else comes after. */
export const leadingTo = (junction: PublishedJunction, form: PublishedForm): PublishedForm => ({
  ...form,
  content: { ...form.content, after: { then: 'go', target: { to: 'junction', junction: junction.id } } },
})

/** The form that visitors whom nobody knows send first, as a page by itself. */
export function askingPage(junction: PublishedJunction, form: PublishedForm): ShownPage {
  const title = (form.content.title || form.name).slice(0, 120)
  let made = 0
  const newId = (): string => `asking${(made += 1)}`
  const section = freshSection(newId, [1], [[freshBlock('form', askedBlock, { form: form.id })]])
  return {
    id: noPage,
    path: `j/${junction.path}`,
    name: junction.name,
    version: 1,
    content: pageContent.parse({ title, listed: false, document: { sections: [section] } }),
  }
}
