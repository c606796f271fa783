import { createHash } from 'node:crypto'
import { html, Html } from '../../core/html.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import type { Charge } from '../../contract/gateway.ts'

const style = `*{box-sizing:border-box}body{margin:0;font:16px/1.45 system-ui,sans-serif;color:#1f2a2e;background:#fff}label{display:block;font-weight:600;margin-bottom:12px}input{display:block;width:100%;margin-top:4px;padding:10px 12px;border:1px solid #59666b;border-radius:6px;font:inherit;font-weight:400}.two{display:grid;grid-template-columns:1fr 1fr;gap:12px}p{margin:0 0 12px}.fault{color:#a3202b;font-weight:600}button{padding:11px 20px;border:0;border-radius:6px;background:#1f2a2e;color:#fff;font:inherit;font-weight:600}main{max-width:460px;margin:40px auto;padding:0 20px}button.no{background:none;color:#1f2a2e;text-decoration:underline}`

/** Takes the card when the page around asks for it, and says whether it can be used; what was typed stays here. */
const script = `const form=document.querySelector('form');addEventListener('message',async({data,source})=>{if(data?.card!=='take'||source!==parent)return;const answer=await fetch(form.action,{method:'POST',headers:{accept:'application/json'},body:new URLSearchParams(new FormData(form))});const{fault}=await answer.json();const said=form.querySelector('.fault');said.textContent=fault??'';parent.postMessage({card:fault?'faulty':'ready'},'*')})`

const hashOf = (text: string): string => `'sha256-${createHash('sha256').update(text).digest('base64')}'`

/** What these pages may load, and who may show the card's fields in a frame. */
export const policyOf = (framedBy: string): string =>
  [
    "default-src 'none'",
    `style-src ${hashOf(style)}`,
    `script-src ${hashOf(script)}`,
    "connect-src 'self'",
    "base-uri 'none'",
    `frame-ancestors ${framedBy}`,
  ].join('; ')

const page = (title: string, body: Html, scripted = false): string =>
  html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <title>${title}</title>
        ${new Html(`<style>${style}</style>`)}
      </head>
      <body>
        ${body}${scripted && new Html(`<script>${script}</script>`)}
      </body>
    </html>`.markup

/** The fields of a card, for a frame in the page where something is bought. */
export const cardFields = (session: string, fault: string): string =>
  page(
    'Card',
    html`<form method="post" action="/card/${session}" novalidate>
      <p class="fault" role="alert">${fault}</p>
      <label
        >Card number
        <input name="number" inputmode="numeric" autocomplete="cc-number" maxlength="23" required
      /></label>
      <div class="two">
        <label
          >Expires (MM/YY)
          <input name="expiry" inputmode="numeric" autocomplete="cc-exp" maxlength="7" required
        /></label>
        <label
          >Security code <input name="code" inputmode="numeric" autocomplete="cc-csc" maxlength="4" required
        /></label>
      </div>
      <noscript><button>Use this card</button></noscript>
    </form>`,
    true,
  )

/** What takes the place of the fields, where there is no script to send them by itself. */
export const cardKept = (): string =>
  page('Card', html`<p role="status">Your card is ready. Now press the button below to pay.</p>`)

/** The second look of the buyer's bank. */
export const confirmPage = ({ id, amount, currency }: Charge): string =>
  page(
    'Confirm this payment',
    html`<main>
      <form method="post" action="/confirm/${id}">
        <h1>Is it you who pays?</h1>
        <p>${moneyWords({ amount, currency })} are to be paid with your card.</p>
        <p>
          <button name="answer" value="yes">Yes, pay</button>
          <button name="answer" value="no" class="no">No</button>
        </p>
      </form>
    </main>`,
  )
