import type { Condition } from '../audience/segments/condition.ts'
import { Html, html } from '../html.ts'
import type { ReaderValues } from '../blocks/mergeValues.ts'
import type { Block } from '../blocks/block.ts'
import type { Target } from '../blocks/target.ts'
import type { ShownNextOffer, ShownOrder, ShownPurchase } from '../commerce/shownOrder.ts'
import type { Brand } from './brand.ts'
import type { LessonState } from './lessons.ts'
import type { FormState, KnownReader, ShownForm } from '../capture/shownForm.ts'

/** The stored widths of a picture. */
export interface PictureFiles {
  /** Address without the width and the format: `/pictures/7-abcd`. */
  base: string
  width: number
  height: number
  /** Widths that there are files of, ascending. */
  widths: readonly number[]
}

/**
 * What stands in a page's markup where the token of a view belongs: in an attribute, with its quotation marks. What
 * anybody types is escaped and has none, so that no text can be taken for it.
 */
export const tokenMark = 'value="§token§"'

/** What a page is rendered for and with; nothing else is asked for meanwhile. */
export interface PageContext {
  brand: Brand
  business: { name: string; postalAddress: string; zone: string }
  /** The address that a target leads to for this reader; null while it leads nowhere. */
  hrefOf: (target: Target) => string | null
  /** Origins to which a target may lead a form, at once or by a redirect: the browser asks whether the page allows it. */
  originsOf: (target: Target) => readonly string[]
  pictureOf: (id: number) => PictureFiles | null
  /** The picture that a shared detail is. */
  detailPicture: (detail: number) => number | null
  /** The address of a file that plays within the page. */
  mediaOf: (id: number) => string | null
  /** The title of a page; null when there is none of that id. */
  titleOf: (page: number) => string | null
  lessonsOf: (course: number) => readonly LessonState[]
  reader: ReaderValues
  /** Who reads, when they were recognised. */
  known: KnownReader | null
  /** A form that visitors can use; null while it is a draft. */
  formOf: (id: number) => ShownForm | null
  /** A quiz that visitors can take, with the address of its frame; null while it is a draft. */
  quizOf: (id: number) => { name: string; frame: string } | null
  /** What an order form shows now; null while nothing of it can be bought. */
  orderOf: (block: Block<'orderForm'>) => ShownOrder | null
  /** One more offer to who has just paid; null where there is nobody to make it to. */
  nextOfferOf: (block: Block<'nextOffer'>) => ShownNextOffer | null
  /** What the reader has just bought. */
  purchase: ShownPurchase | null
  /**
   * A personal deadline of the reader: when it ends on the clock of their browser (ISO 8601), and whether it has; null
   * when it has not begun.
   */
  deadlineOf: (name: string) => { until: string; over: boolean } | null
  shows: (people: Condition) => boolean
  /** Hosts whose videos may be shown. */
  videoHosts: readonly string[]
  /** Own HTML without what could do harm. */
  safeHtml: (markup: string) => string
  form: FormState
  /** Where forms are sent to. */
  formAction: string
  now: number
  /** Marks what can be written in, for the sheet of the editor. */
  editing: boolean
}

/** What a page must be allowed beyond its own markup. */
export interface Needs {
  script?: boolean
  /** The script of order forms. */
  order?: boolean
  frames?: readonly string[]
  media?: boolean
  /** Origins that a form may lead on to after it was sent. */
  forms?: readonly string[]
}

/** How a kind of block is drawn on a page. */
export interface PageBlock<Block> {
  html: (block: Block, context: PageContext) => Html
  /** Sent once with a page that has such a block. */
  css: string
  needs?: (block: Block, context: PageContext) => Needs
}

/** Marks an element whose text the sheet lets one write in, by the place of the text in its block. */
export const editable = ({ editing }: PageContext, path: string): Html | false =>
  editing && html` data-edit="${path}"`

/** A link when it leads somewhere; otherwise the same without one. */
export function linked(
  context: PageContext,
  target: Target,
  inner: Html,
  {
    className = '',
    newWindow = false,
    edited = false,
  }: { className?: string; newWindow?: boolean; edited?: Html | false } = {},
): Html {
  const href = context.hrefOf(target)
  const classes = className && html` class="${className}"`
  if (href === null) return className ? html`<a${classes}${edited}>${inner}</a>` : inner
  const opens = newWindow && html` target="_blank" rel="noopener"`
  return html`<a${classes} href="${href}"${opens}${edited}>${inner}</a>`
}

/** A text with its line breaks. */
export const withBreaks = (text: string): Html =>
  new Html(
    text
      .split('\n')
      .map((line) => html`${line}`.markup)
      .join('<br>'),
  )

/** What nobody has written yet is seen in the editor alone. @param words of an entry */
export const writtenEntries = <T>(
  entries: readonly T[],
  { editing }: PageContext,
  words: (each: T) => string,
): T[] => entries.filter((each) => editing || words(each).trim() !== '')
