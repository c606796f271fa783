import type { Block } from '../../blocks/block.ts'
import { formatMerged } from '../../blocks/mergeValues.ts'
import type { Target } from '../../blocks/target.ts'
import { html, type Html } from '../../html.ts'
import { editable, linked, withBreaks, type PageBlock, type PageContext } from '../context.ts'
import { pictureHtml } from './pictureHtml.ts'
import { lineOf } from './words.ts'

const css = `.tile{border:1px solid var(--line);border-radius:var(--corner);padding:24px;background:var(--bg)}.tile>*+*{margin-top:12px}.tile img{border-radius:var(--corner)}.tile .title{font:600 21px/1.3 var(--head)}.tile .when{font-weight:650;color:var(--accent)}`

/** A card of a page: what stands in it, and where it leads. */
function tile(
  parts: { top?: Html; title: Html; detail?: Html; words: string; label: string; target: Target },
  context: PageContext,
): Html {
  const { top, title, detail, words, label, target } = parts
  const options = { className: 'btn', edited: editable(context, 'label') }
  return html`<div class="tile">
    ${top}
    <p class="title">${title}</p>
    ${detail && html`<p class="when">${detail}</p>`}${
      (words || context.editing) &&
      html`<p${editable(context, 'words')}>${withBreaks(lineOf(words, context))}</p>`
    }${
      (label || context.editing) &&
      html`<p>${linked(context, target, html`${lineOf(label, context)}`, options)}</p>`
    }
  </div>`
}

export const lessonCard: PageBlock<Block<'lessonCard'>> = {
  html: ({ page, title, words, label }, context) => {
    if (page === null && !context.editing) return html``
    const named = title ? lineOf(title, context) : page === null ? 'no lesson chosen' : context.titleOf(page)
    return tile(
      {
        title: html`${named ?? ''}`,
        words,
        label,
        target: page === null ? { to: 'nowhere' } : { to: 'page', page },
      },
      context,
    )
  },
  css,
}

export const productCard: PageBlock<Block<'productCard'>> = {
  html: ({ picture, alt, name, words, price, label, target }, context) =>
    tile(
      {
        top: picture === null ? html`` : pictureHtml(context, picture, alt, '(max-width:720px) 100vw, 540px'),
        title: html`<span${editable(context, 'name')}>${lineOf(name, context)}</span>`,
        ...((price || context.editing) && {
          detail: html`<span${editable(context, 'price')}>${price}</span>`,
        }),
        words,
        label,
        target,
      },
      context,
    ),
  css,
}

export const sessionCard: PageBlock<Block<'sessionCard'>> = {
  html: ({ title, at, words, label, target }, context) => {
    const { zone } = context.business
    const moment = at === null ? null : { moment: Date.parse(at), zone }
    return tile(
      {
        title: html`<span${editable(context, 'title')}>${lineOf(title, context)}</span>`,
        ...(moment !== null && {
          detail: html`<time datetime="${at}">${formatMerged(moment, null, context.reader.zone)}</time>`,
        }),
        words,
        label,
        target,
      },
      context,
    )
  },
  css,
}
