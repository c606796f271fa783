import { Html, html } from '../html.ts'
import type { Needs, PageContext } from './context.ts'
import type { PageContent } from './page.ts'
import { bodyHtml, framedHtml, needsOf, styleOf } from './render.ts'

/** What stands in the head of a page beyond what its version says. */
export interface PageHead {
  /** The page's own address, whole. */
  canonical: string
  siteName: string
  icon: string
  /** Address of a picture with its scheme and host, for who shares the page. */
  sharingPicture: string | null
  /** Head code of the business: only `meta`, `link` and the like, no script. */
  code: string
  scriptUrl: string
  orderScriptUrl: string
  /** The script that opens pop-ups, and the rules of those that may open here; null when none does. */
  popUps: { scriptUrl: string; rules: string } | null
  /** Asks for consent before anything that needs it runs; null when nothing does. */
  consent: { words: string; policyHref: string | null; scripts: readonly string[] } | null
}

export interface WholePage {
  markup: string
  /** What the one style element holds, for the policy's hash. */
  style: string
  needs: Required<Needs>
}

const bannerHtml = ({ words, policyHref, scripts }: NonNullable<PageHead['consent']>): Html =>
  html`<div
    class="bar"
    id="consent"
    role="region"
    aria-label="Your consent"
    data-scripts="${scripts.join(' ')}"
    hidden
  >
    <p>${words}${policyHref !== null && html` <a href="${policyHref}">Privacy</a>`}</p>
    <button type="button" class="btn" data-consent="yes">Allow</button>
    <button type="button" class="btn" data-consent="no">Do not allow</button>
  </div>`

/** What stands in the main part in the place of a document, or around it. */
export interface OwnMain {
  html: Html
  css: string
  scriptUrl: string | null
  /** Origins to which its forms may lead on. */
  forms: readonly string[]
  /** Without head and foot of the site: for a frame. */
  bare: boolean
}

/**
 * A whole page of the public site: complete without its script.
 * @param own what stands in the main part besides the document, where there is something
 */
export function wholePage(
  content: PageContent,
  head: PageHead,
  context: PageContext,
  own: OwnMain | null = null,
): WholePage {
  const style = `${styleOf(content, context)}${own?.css ?? ''}`
  const needs = needsOf(content, context)
  const body = own
    ? framedHtml(html`<main>${own.html}</main>`, context, own.bare)
    : bodyHtml(content, context)
  const { title, description, sharing, listed, language } = content
  const script = needs.script || head.consent !== null
  const ownScript = own?.scriptUrl ?? null
  // Whatever frames it has pop-ups of its own.
  const popUps = own?.bare ? null : head.popUps
  const { markup } = html`<!doctype html>
    <html lang="${language}">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title}</title>
        ${description && html`<meta name="description" content="${description}" />`}
        ${!listed && html`<meta name="robots" content="noindex" />`}
        <link rel="canonical" href="${head.canonical}" />
        <link rel="icon" href="${head.icon}" />
        <meta property="og:type" content="website" />
        <meta property="og:site_name" content="${head.siteName}" />
        <meta property="og:url" content="${head.canonical}" />
        <meta property="og:title" content="${sharing.title || title}" />
        ${(sharing.words || description) && html`<meta property="og:description" content="${sharing.words || description}" />`}
        ${head.sharingPicture !== null && html`<meta property="og:image" content="${head.sharingPicture}" />`}
        ${new Html(head.code)} ${new Html(`<style>${style}</style>`)}
      </head>
      <body>
        ${body}${
          head.consent && bannerHtml(head.consent)
        }${script && html`<script src="${head.scriptUrl}" defer></script>`}${needs.order && html`<script src="${head.orderScriptUrl}" defer></script>`}${
          ownScript !== null && html`<script src="${ownScript}" defer></script>`
        }${popUps && html`<script src="${popUps.scriptUrl}" data-rules="${popUps.rules}" defer></script>`}
      </body>
    </html>`
  return {
    markup,
    style,
    needs: {
      ...needs,
      forms: [...new Set([...needs.forms, ...(own?.forms ?? [])])],
      script: script || popUps !== null || ownScript !== null,
    },
  }
}
