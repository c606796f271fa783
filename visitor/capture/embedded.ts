import type { Block } from '../../core/blocks/block.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { freshBlock } from '../../core/blocks/block.ts'
import { freshSection } from '../../core/blocks/document.ts'
import { walk } from '../../core/blocks/walk.ts'
import type { PopUpContent } from '../../core/capture/popUp.ts'
import { html, type Html } from '../../core/html.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { sectionsHtml, shadowStyleOf } from '../../core/pages/render.ts'
import { facesOf } from '../../core/pages/style.ts'
import type { Site } from '../../server/pages/site.ts'

/** A form or a pop-up that is shown outside of a page of the Library. */
export interface Embedded {
  key: string
  title: string
  name: string
  document: BlockDocument
  popUp: { id: number; content: PopUpContent } | null
}

/** A form by itself, as a document. */
function documentOf(form: number): BlockDocument {
  let made = 0
  const newId = (): string => `embedded${(made += 1)}`
  return { sections: [freshSection(newId, [1], [[freshBlock('form', newId(), { form })]])] }
}

/** The form or pop-up of a key that visitors can use. */
export function embeddedOf(site: Site, key: string): Embedded | null {
  const popUp = site.popUps.find((each) => each.key === key)
  if (popUp) {
    const { id, name, content } = popUp
    return { key, name, title: content.title, document: content.document, popUp: { id, content } }
  }
  const form = [...site.forms.values()].find((each) => each.key === key)
  if (!form) return null
  const title = form.content.title || form.name
  return { key, name: form.name, title, document: documentOf(form.id), popUp: null }
}

/** The form that stands in a block, or in the first one that has one. */
export function formBlockIn({ document }: Embedded, block: string): Block<'form'> | undefined {
  const all = [...walk(document)].flatMap(({ block: each }) => (each.kind === 'form' ? [each] : []))
  return all.find(({ id }) => id === block) ?? all[0]
}

/** How often it was seen, and where, is counted under this name. */
export const placeOf = ({ popUp }: Embedded, site: string | null): string =>
  popUp ? `pop-up ${popUp.id}` : (site ?? 'elsewhere')

function dialogHtml({ title }: Embedded, { shape, edge }: PopUpContent, inner: Html): Html {
  const classes = shape === 'bar' && edge === 'top' ? 'bar top' : shape
  return html`<dialog class="${classes}" aria-label="${title}">
    <div class="sheet" tabindex="-1" autofocus>
      <button type="button" class="shut" aria-label="Close" data-close>×</button>${inner}
    </div>
  </dialog>`
}

/** What a browser puts into a tree of its own. */
export function embeddedAnswer(embedded: Embedded, context: PageContext) {
  const { document, popUp } = embedded
  // The page around it has a main part of its own.
  const parts = html`<div class="parts">${sectionsHtml({ document }, context)}</div>`
  const drawn = popUp ? dialogHtml(embedded, popUp.content, parts) : html`<div class="sheet">${parts}</div>`
  return {
    html: drawn.markup,
    style: shadowStyleOf({ document }, context),
    faces: facesOf(context.brand),
    shape: popUp?.content.shape ?? null,
  }
}

/** What stands in its place after an answer. */
export const embeddedParts = ({ document }: Embedded, context: PageContext): string =>
  sectionsHtml({ document }, context).markup
