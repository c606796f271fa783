import type { BlockDocument } from '../../core/blocks/document.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { bodyHtml, styleOf } from '../../core/pages/render.ts'

/** Draws a document into a frame, as the public site would. */
export function drawSample(frame: HTMLIFrameElement, document: BlockDocument, context: PageContext): void {
  const page = frame.contentDocument
  const view = page?.defaultView
  if (!page || !view) return
  const sheet = new view.CSSStyleSheet()
  sheet.replaceSync(styleOf({ document }, context))
  page.adoptedStyleSheets = [sheet]
  page.documentElement.lang = 'en'
  page.title = 'Sample page'
  page.body.innerHTML = bodyHtml({ document }, context).markup
  page.body.inert = true
}
