import { Html, html } from '../core/html.ts'
import type { Brand } from '../core/pages/brand.ts'
import { pageStyle } from '../core/pages/style.ts'

/** What these pages have beyond the style of the brand: they are short, and mostly one form. */
const style = `main{padding-top:24px;padding-bottom:40px}main>.in>*+*{margin-top:16px}main p{max-width:62ch}h1{font-size:clamp(30px,4.4vw,44px);line-height:1.15}h2{font-size:22px;line-height:1.35;margin-top:32px}form{background:var(--bg);border:1px solid var(--line);border-radius:var(--corner);padding:24px;max-width:560px}form:has(>button:only-child){border:0;padding:0;background:none}form>*+*{margin-top:14px}label{display:block;font-weight:600}label span{font-weight:400}input[type=text],input[type=email]{display:block;width:100%;margin-top:6px;padding:11px 12px;border:1px solid var(--text);border-radius:min(var(--corner),8px);background:var(--bg);color:inherit;font:inherit}label.tick{display:grid;grid-template-columns:22px 1fr;gap:10px;font-weight:400}.tick input{width:18px;height:18px;margin:4px 0 0;accent-color:var(--accent)}button,a.button{display:inline-block;border:2px solid var(--accent);border-radius:var(--corner);background:var(--accent);color:var(--on);font:700 17px/1.3 var(--body);padding:12px 24px;text-decoration:none;cursor:pointer}.fault{display:block;color:#A3202B;font-weight:600;margin-top:6px}.notice{border-left:4px solid var(--accent);padding:8px 16px}.choices{display:grid;grid-template-columns:repeat(auto-fit,minmax(min(300px,100%),1fr));gap:24px}.choices h2{margin-top:0}.choices form:not(:first-child) button{background:none;color:var(--accent)}table.invoice{width:100%;border-collapse:collapse}.invoice :is(th,td){text-align:right;padding:10px 0 10px 16px;border-top:1px solid var(--line);vertical-align:top}.invoice :is(th,td):first-child{text-align:left;padding-left:0}.invoice tfoot th{font-weight:400}.bought{list-style:none;padding:0;max-width:560px}.bought li{display:flex;justify-content:space-between;gap:16px;padding:10px 0;border-top:1px solid var(--line)}a.btn{display:inline-block;border-radius:var(--corner);background:var(--accent);color:var(--on);font-weight:700;padding:12px 24px;text-decoration:none;margin:0 12px 12px 0}.things{list-style:none;padding:0;max-width:720px}.thing{padding:18px 0;border-top:1px solid var(--line)}.thing h3{font-size:19px}.thing p{margin-top:6px}.soft{opacity:.8;font-size:15px}.thing .button{padding:8px 16px;font-size:15px;margin:0 8px 0 0}progress{width:160px;height:12px;accent-color:var(--accent);vertical-align:middle;margin-right:8px}iframe{display:block;width:100%;height:218px;border:0}select{padding:11px 12px;border:1px solid var(--text);border-radius:min(var(--corner),8px);background:var(--bg);color:inherit;font:inherit}blockquote{margin:0;border-left:4px solid var(--line);padding:4px 0 4px 16px;max-width:62ch}`

export interface PublicPage {
  title: string
  business: string
  foot?: string
  /** Kept out of search engines: everything but capture pages themselves. */
  unlisted: boolean
  /** The fields of a card stand on it: where they come from, and the script that sends them. */
  card?: { origin: string; scriptUrl: string }
  body: Html
}

/** A whole page of the public site that is no page of the Library, in the brand of the business. */
export function publicPage(page: PublicPage, brand: Brand, nonce: string): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${page.title}</title>
        <link rel="icon" href="/assets/icon.svg" type="image/svg+xml" />
        ${page.unlisted && html`<meta name="robots" content="noindex" />`}
        <style nonce="${nonce}">
          ${new Html(pageStyle(brand, [style], new Set()))}
        </style>
      </head>
      <body>
        <header>
          <div class="in"><span class="logo">${page.business}</span></div>
        </header>
        <main><div class="in">${page.body}</div></main>
        ${page.card && html`<script src="${page.card.scriptUrl}" defer></script>`}${
          page.foot &&
          html`<footer>
            <div class="in"><p>${page.foot}</p></div>
          </footer>`
        }
      </body>
    </html> `.markup.replace(/\n\s+/g, '\n')
}
