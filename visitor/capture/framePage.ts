import { createHash } from 'node:crypto'
import { Html, html } from '../../core/html.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { sectionsHtml, needsOf, styleOf } from '../../core/pages/render.ts'
import type { Embedded } from './embedded.ts'

/** Tells the page around it how high it is, whenever that changes. */
const script = `new ResizeObserver(()=>parent!==window&&parent.postMessage({nurtel:{height:document.documentElement.offsetHeight}},'*')).observe(document.documentElement)`

const trialStyle = '.trial{max-width:520px;margin:0 auto 16px;padding:6px 12px;border-left:4px solid #F2B632}'

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64')

/**
 * A form or a pop-up as a page by itself, which may stand in a frame of any site.
 * @param trial the name of somebody in rehearsal as whom it is tried
 */
export function framePage(
  { document, title }: Embedded,
  context: PageContext,
  trial: string | null,
): { markup: string; policy: string } {
  const style = `${styleOf({ document }, context)}body{padding:16px 0}section{padding:0}form,.done{margin-inline:auto}.away{position:absolute;left:-9999px}${trialStyle}`
  const needs = needsOf({ document }, context)
  const { markup } = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title}</title>
        <meta name="robots" content="noindex" />
        ${new Html(`<style>${style}</style>`)}
      </head>
      <body>
        <main>
          <h1 class="away">${title}</h1>
          ${
            trial === null
              ? ''
              : html`<p class="trial" role="note">As ${trial}, in rehearsal: this is counted nowhere.</p>`
          }
          ${sectionsHtml({ document }, context)}
        </main>
        ${new Html(`<script>${script}</script>`)}
      </body>
    </html>`
  const policy = [
    "default-src 'none'",
    `style-src 'sha256-${hashOf(style)}'`,
    `script-src 'sha256-${hashOf(script)}'`,
    "font-src 'self'",
    "img-src 'self'",
    "media-src 'self'",
    ...(needs.frames.length > 0 ? [`frame-src ${needs.frames.join(' ')}`] : []),
    `form-action ${["'self'", ...needs.forms].join(' ')}`,
    "base-uri 'none'",
    'frame-ancestors *',
  ].join('; ')
  return { markup, policy }
}
