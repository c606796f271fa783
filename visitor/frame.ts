import { Html, html } from '../core/html.ts'

/** The whole style of the public pages: sent with each page, so that nothing waits for a second request. */
const style = `
@font-face{font-family:Overpass;src:url(/assets/overpass.woff2) format('woff2');font-weight:100 900;font-display:swap}
*{box-sizing:border-box}
body{margin:0;background:#F6F3EC;color:#14323C;font:17px/26px Overpass,system-ui,sans-serif}
header,main,footer{max-width:1040px;margin:0 auto;padding:0 24px}
header{padding-top:28px;font-weight:700;display:flex;align-items:center;gap:12px}
header::after{content:'';flex:1;height:1px;background:#D8D2C4}
main{padding-top:48px;padding-bottom:64px}
h1{font-size:44px;line-height:50px;letter-spacing:-.01em;margin:0 0 20px;text-wrap:balance;font-weight:800}
h2{font-size:22px;line-height:30px;margin:40px 0 12px}
p{margin:0 0 16px;max-width:62ch}
.two{display:grid;grid-template-columns:minmax(0,1fr) 380px;gap:64px;align-items:start}
ul.points,ol.next{margin:24px 0;padding:0;list-style:none;border-left:2px solid #0E5A6B}
.points li,.next li{position:relative;padding:6px 0 6px 24px}
.points li::before,.next li::before{content:'';position:absolute;left:-8px;top:13px;width:10px;height:10px;border:2px solid #0E5A6B;border-radius:50%;background:#F6F3EC}
form{background:#FFF;border:1px solid #D8D2C4;border-top:3px solid #0E5A6B;border-radius:4px;padding:28px}
label{display:block;font-weight:600;margin-bottom:20px}
label span{font-weight:400;color:#4A636B}
input[type=text],input[type=email]{display:block;width:100%;margin-top:6px;padding:11px 12px;border:1px solid #4A636B;border-radius:4px;background:#FFF;color:inherit;font:inherit}
label.tick{display:grid;grid-template-columns:22px 1fr;gap:10px;font-weight:400;font-size:15px;line-height:22px}
.tick input{width:18px;height:18px;margin:2px 0 0;accent-color:#0E5A6B}
button,a.button{display:inline-block;border:0;border-radius:4px;background:#C8451F;color:#FFF;font:inherit;font-weight:700;padding:13px 22px;text-decoration:none;cursor:pointer}
form button{width:100%}
a{color:#0E5A6B}
:focus-visible{outline:3px solid #0E5A6B;outline-offset:2px}
.fault{display:block;color:#A3202B;font-weight:600;font-size:15px;line-height:20px;margin-top:6px}
.notice{border-left:3px solid #A3202B;background:#FFF;padding:12px 16px;margin-bottom:20px}
.choices{display:grid;grid-template-columns:repeat(auto-fit,minmax(300px,1fr));gap:24px;margin-top:32px}
.choices h2{margin-top:0}
.choices form:not(:first-child) button{background:none;border:2px solid #0E5A6B;color:#0E5A6B;padding:11px 20px}
.offer{margin-top:40px;border-top:1px solid #D8D2C4;padding-top:28px}
.elsewhere{position:absolute;left:-9999px}
footer{padding-bottom:40px;color:#4A636B;font-size:14px;line-height:20px}
@media(max-width:820px){.two{grid-template-columns:1fr;gap:32px}h1{font-size:34px;line-height:40px}main{padding-top:32px}}
`

export interface PublicPage {
  title: string
  business: string
  foot?: string
  /** Kept out of search engines: everything but capture pages themselves. */
  unlisted: boolean
  body: Html
}

/** A whole public page. */
export function publicPage(page: PublicPage, nonce: string): string {
  return html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${page.title}</title>
        <link rel="icon" href="/assets/icon.svg" type="image/svg+xml" />
        ${page.unlisted && html`<meta name="robots" content="noindex" />`}
        <style nonce="${nonce}">
          ${new Html(style)}
        </style>
      </head>
      <body>
        <header>${page.business}</header>
        <main>${page.body}</main>
        ${page.foot && html`<footer>${page.foot}</footer>`}
      </body>
    </html> `.markup.replace(/\n\s+/g, '\n')
}
