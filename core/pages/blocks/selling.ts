import type { Block } from '../../blocks/block.ts'
import { nextOfferHtml, orderHtml, orderStyle, purchaseHtml } from '../../commerce/orderHtml.ts'
import { html } from '../../html.ts'
import { editable, withBreaks, type PageBlock } from '../context.ts'
import { lineOf } from './words.ts'

export const orderForm: PageBlock<Block<'orderForm'>> = {
  html: (block, context) => {
    const shown = context.orderOf(block)
    if (shown) return orderHtml(shown)
    return context.editing
      ? html`<p class="nopic">no product chosen</p>`
      : html`<p>This cannot be bought now.</p>`
  },
  css: orderStyle,
  needs: (block, context) => {
    const shown = context.orderOf(block)
    if (!shown) return {}
    const origin = shown.card !== null && URL.canParse(shown.card) ? [new URL(shown.card).origin] : []
    return { script: true, order: true, frames: origin }
  },
}

export const nextOffer: PageBlock<Block<'nextOffer'>> = {
  html: (block, context) => {
    const shown = context.nextOfferOf(block)
    if (shown) return nextOfferHtml(block, shown)
    return context.editing ? html`<p class="nopic">no product chosen</p>` : html``
  },
  css: `form.next{background:var(--bg);border:2px solid var(--accent);border-radius:var(--corner);padding:28px;max-width:560px}form.next>*+*{margin-top:14px}.next .go{display:flex}.next .go .btn{flex:1}.next .no{text-align:center}`,
}

export const purchase: PageBlock<Block<'purchase'>> = {
  html: ({ greeting, words }, context) => {
    const { purchase: bought } = context
    const name = context.editing ? 'Ada' : (bought?.firstName ?? '')
    if (!bought && !context.editing) return html``
    const named = name === '' ? '' : `, ${name}`
    return html`<div class="purchase">
      <h2><span${editable(context, 'greeting')}>${lineOf(greeting, context)}</span>${named}</h2>
      ${
        (words || context.editing) &&
        html`<p${editable(context, 'words')}>${withBreaks(lineOf(words, context))}</p>`
      }${bought ? purchaseHtml(bought) : html`<p class="nopic">what was bought, and the ways to it</p>`}
    </div>`
  },
  css: `.purchase>*+*{margin-top:14px}.bought{list-style:none;padding:0}.bought li{display:flex;justify-content:space-between;gap:16px;padding:10px 0;border-top:1px solid var(--line)}.small{font-size:14px}`,
}
