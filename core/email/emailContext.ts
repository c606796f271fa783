import type { ShownTo } from '../blocks/kinds/blockKind.ts'
import type { PictureFiles } from '../pages/context.ts'
import type { Brand } from '../pages/brand.ts'
import { Html, html } from '../html.ts'
import { literalHtml, wordsHtml } from './emailTemplate.ts'

/** What the markup of an email is made with. */
export interface EmailContext {
  brand: Brand
  business: { name: string; postalAddress: string; zone: string }
  pictureOf: (id: number) => PictureFiles | null
  /** The picture that a shared detail is. */
  detailPicture: (detail: number) => number | null
  /** The title of a page; null when there is none of that id. */
  titleOf: (page: number) => string | null
  safeHtml: (markup: string) => string
  /** The number of a link among those of the email; null when it leads nowhere. */
  linkOf: (block: string, part: string) => number | null
  /** The number of a part among those that not everybody sees; null when everybody does. */
  conditionOf: (part: string) => number | null
  /** Marks what can be written in, for the sheet of the editor; merge fields stand as they are written. */
  editing: boolean
}

/** A line of a block: a template for the sent email, as it is written for the sheet. */
export const lineHtml = (words: string, { editing }: EmailContext): Html =>
  editing ? html`${words}` : wordsHtml(words)

/** The same with its line breaks. */
export const sentencesHtml = (words: string, context: EmailContext): Html =>
  new Html(lineHtml(words, context).markup.replaceAll('\n', '<br>'))

/** A word that is the same for every reader. */
export const fixedHtml = (words: string, { editing }: EmailContext): Html =>
  editing ? html`${words}` : literalHtml(words)

/** Marks an element whose text the sheet lets one write in. */
export const written = (path: string, { editing }: EmailContext): Html | false =>
  editing && html` data-edit="${path}"`

/** The address of a link in the template; the sheet's lead nowhere. */
export function hrefOf(block: string, part: string, { linkOf, editing }: EmailContext): string | null {
  const link = linkOf(block, part)
  if (link === null) return null
  return editing ? '#' : `{{ links[${link}] }}`
}

/**
 * A part that is there for some people only, between marks that become the template's own: a comment may stand where
 * words may not.
 */
export function conditionally(
  part: { id: string; shownTo: ShownTo | null },
  drawn: Html,
  instead: Html,
  context: EmailContext,
): Html {
  const n = context.conditionOf(part.id)
  if (n === null || context.editing) return drawn
  const mark = (words: string): Html => new Html(`<mj-raw><!--${words}--></mj-raw>`)
  return html`${mark(`shows ${n}`)}${drawn}${mark('otherwise')}${instead}${mark('end')}`
}

/** The marks of parts that not everybody sees, as the template has them. */
export const withConditions = (markup: string): string =>
  markup
    .replace(/<!--shows (\d+)-->/g, '{% if shows[$1] %}')
    .replaceAll('<!--otherwise-->', '{% else %}')
    .replaceAll('<!--end-->', '{% endif %}')

/** The width of the text of an email (px): common practice. */
export const emailWidth = 600
/** What stands free at its sides (px). */
export const sideSpace = 24
/** Between two parts, and between two paragraphs: the same, whatever stands above and below (px). */
export const partSpace = 16
