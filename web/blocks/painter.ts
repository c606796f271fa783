import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { bodyHtml, mainHtml, sectionHtml, styleOf } from '../../core/pages/render.ts'
import { sheetStyle } from '../../core/pages/style.ts'

/** Draws documents for the sheet, as their readers will see them. */
export interface Painter {
  style: (document: BlockDocument) => string
  /** Everything, with what stands around the document. */
  body: (document: BlockDocument) => string
  /** One section; null while it is not drawn yet. */
  section: (section: Section) => string | null
  /** Gets a document ready to be drawn; what is drawn at once needs no such time. */
  prepare?: (document: BlockDocument) => Promise<void>
}

/** Draws with the functions of the public site. @param bare without head and foot of the site */
export const pagePainter = (context: PageContext, bare: boolean): Painter => ({
  style: (document) => `${styleOf({ document }, context)}${sheetStyle}`,
  body: (document) => (bare ? mainHtml : bodyHtml)({ document }, context).markup,
  section: (section) => sectionHtml(section, context).markup,
})
