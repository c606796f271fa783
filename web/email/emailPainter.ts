import * as api from '../../contract/api.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import type { EmailContent } from '../../core/email/email.ts'
import { sheetStyle } from '../../core/pages/style.ts'
import { call } from '../api.ts'
import type { Painter } from '../blocks/painter.ts'

/** Quiet for so long, and the sheet is drawn anew (milliseconds). */
const quiet = 120

/** What the marks of empty places are drawn with: cells of an email's tables have no size of letters. */
const marks = ':root{--line:#C9C5BA;--corner:4px}.b.hollow::before{font-size:16px;line-height:25px}'

/**
 * Draws an email as it will be sent: by the server, which lays it out. Until its answer is there the sheet keeps what
 * is typed on it.
 * @param contentOf the email as it is written now
 */
export function emailPainter(contentOf: () => EmailContent): Painter {
  let style = ''
  let body = ''
  let sections = new Map<string, string>()
  let latest: BlockDocument | null = null
  let ready: BlockDocument | null = null

  return {
    style: () => `${style}${marks}${sheetStyle}`,
    body: () => body,
    section: ({ id }) => (ready === latest ? (sections.get(id) ?? null) : null),
    async prepare(document) {
      const isFirst = latest === null
      latest = document
      if (!isFirst) await new Promise((done) => setTimeout(done, quiet))
      // Something else was typed meanwhile: that is drawn.
      if (latest !== document) return
      const drawn = await call(api.emails.draw, { body: { content: { ...contentOf(), document } } })
      const parsed = new DOMParser().parseFromString(drawn.body, 'text/html')
      style = drawn.style
      body = drawn.body
      sections = new Map(
        [...parsed.querySelectorAll('[id^="s-"]')].map((section) => [section.id.slice(2), section.outerHTML]),
      )
      ready = document
    },
  }
}
