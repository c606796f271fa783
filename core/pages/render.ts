import { walk } from '../blocks/walk.ts'
import type { Block } from '../blocks/block.ts'
import type { Section } from '../blocks/document.ts'
import type { ShownTo } from '../blocks/kinds/blockKind.ts'
import { html, type Html } from '../html.ts'
import { logoHtml } from './blocks/pictures.ts'
import { pictureHtml } from './blocks/pictureHtml.ts'
import { linked, withBreaks, type Needs, type PageContext } from './context.ts'
import { pageBlockOf } from './pageBlocks.ts'
import type { PageContent } from './page.ts'
import { pageStyle, shadowStyle } from './style.ts'

/** What others see in the place of a part that is not shown to them; null when it is shown. */
function insteadOf(shownTo: ShownTo | null, context: PageContext): Html | null {
  if (!shownTo || context.editing || context.shows(shownTo.people)) return null
  return shownTo.instead ? html`<div class="b"><p>${withBreaks(shownTo.instead)}</p></div>` : html``
}

/** A block as it stands on a page, and in the sheet of the editor. */
export function blockHtml(block: Block, context: PageContext): Html {
  const instead = insteadOf(block.shownTo, context)
  if (instead) return instead
  const inner = pageBlockOf(block.kind).html(block, context)
  if (!inner.markup && !context.editing) return inner
  const classes = `b ${block.kind}${block.hiddenOnPhones ? ' nophone' : ''}`
  const guide = context.editing && block.guidance && html` data-guide="${block.guidance}"`
  return html`<div class="${classes}" id="b-${block.id}" ${guide}>${inner}</div>`
}

const sharesOf = ({ columns }: Section): string => columns.map(({ share }) => share).join('-')

/** A section with its columns and blocks. */
export function sectionHtml(section: Section, context: PageContext): Html {
  const { look, columns } = section
  const instead = insteadOf(section.shownTo, context)
  if (instead) return instead.markup ? html`<section><div class="in">${instead}</div></section>` : instead
  const behind =
    look.background === 'picture' && look.picture !== null
      ? pictureHtml(context, look.picture, '', '100vw')
      : html``
  const pictured = behind.markup && 'pictured'
  const classes = [
    look.background === 'tinted' && 'tinted',
    pictured,
    look.width !== 'page' && look.width,
    section.hiddenOnPhones && 'nophone',
  ].filter((each) => each !== false && each !== '')
  const drawn = columns.map(
    ({ id, blocks }) =>
      html`<div${context.editing && html` data-column="${id}"`}>${blocks.map((block) => blockHtml(block, context))}</div>`,
  )
  return html`<section id="s-${section.id}" ${classes.length > 0 && html` class="${classes.join(' ')}"`}>
    ${behind}
    <div class="in cols c${sharesOf(section)}">${drawn}</div>
  </section>`
}

function headerHtml(context: PageContext): Html {
  const { links } = context.brand.header
  return html`<header>
    <div class="in">
      <span class="logo">${logoHtml(context)}</span>${
        links.length > 0 &&
        html`<nav aria-label="Site">
          ${links.map(({ label, target }) => html`${linked(context, target, html`${label}`)} `)}
        </nav>`
      }
    </div>
  </header>`
}

function footerHtml(context: PageContext): Html {
  const { brand, business } = context
  const { words, links } = brand.footer
  return html`<footer>
    <div class="in">
      <p>${words && html`${withBreaks(words)}<br />`}${business.name}, ${business.postalAddress}</p>
      ${links.map(({ label, target }) => linked(context, target, html`${label}`))}
    </div>
  </footer>`
}

/** The styles of the kinds of blocks in a document, and the grids of its columns. */
function partsOfStyle({ document }: Pick<PageContent, 'document'>): [string[], Set<string>] {
  const kinds = new Set([...walk(document)].map(({ block }) => block.kind))
  const css = [...kinds].map((kind) => pageBlockOf(kind).css)
  // A price card has ticks of its own, whether or not there is a list.
  if (kinds.has('priceCard') && !kinds.has('list')) css.push(pageBlockOf('list').css)
  return [css, new Set(document.sections.map(sharesOf))]
}

/** The rules that a page with these blocks needs. */
export const styleOf = (content: Pick<PageContent, 'document'>, { brand }: PageContext): string =>
  pageStyle(brand, ...partsOfStyle(content))

/** The same for a document in a tree of its own, on whatever page. */
export const shadowStyleOf = (content: Pick<PageContent, 'document'>, { brand }: PageContext): string =>
  shadowStyle(brand, ...partsOfStyle(content))

/** The parts of a document without what stands around them on a page. */
export const sectionsHtml = ({ document }: Pick<PageContent, 'document'>, context: PageContext): Html =>
  html`${document.sections.map((section) => sectionHtml(section, context))}`

/** The main part of a page. */
export const mainHtml = (content: Pick<PageContent, 'document'>, context: PageContext): Html =>
  html`<main>${sectionsHtml(content, context)}</main>`

/** A main part with head and foot of the site around it. @param bare without them */
export const framedHtml = (main: Html, context: PageContext, bare = false): Html =>
  bare ? main : html`${headerHtml(context)} ${main} ${footerHtml(context)}`

/** What stands in the body of a page: the same on the public site and in the editor's sheet. */
export const bodyHtml = ({ document }: Pick<PageContent, 'document'>, context: PageContext): Html =>
  framedHtml(mainHtml({ document }, context), context)

/** What a page must be allowed, all its blocks together. */
export function needsOf({ document }: Pick<PageContent, 'document'>, context: PageContext): Required<Needs> {
  const all = [...walk(document)].map(({ block }) => pageBlockOf(block.kind).needs?.(block, context) ?? {})
  return {
    script: all.some(({ script }) => script),
    order: all.some(({ order }) => order),
    media: all.some(({ media }) => media),
    frames: [...new Set(all.flatMap(({ frames }) => frames ?? []))],
    forms: [...new Set(all.flatMap(({ forms }) => forms ?? []))],
  }
}
