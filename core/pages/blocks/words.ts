import type { Block } from '../../blocks/block.ts'
import { mergeWords } from '../../blocks/mergeValues.ts'
import { Html, html } from '../../html.ts'
import { editable, withBreaks, type PageBlock, type PageContext, writtenEntries } from '../context.ts'
import { pictureHtml } from './pictureHtml.ts'
import { richTextHtml } from './richTextHtml.ts'

/** A line as its reader sees it; the sheet shows it as it is written. */
export const lineOf = (words: string, context: PageContext): string =>
  context.editing ? words : mergeWords(words, context.reader)

export const centred = (align: 'start' | 'centre'): Html | false =>
  align === 'centre' && new Html(' class="mid"')

const openingTag = (level: 1 | 2 | 3): string => `<h${level}`

export const heading: PageBlock<Block<'heading'>> = {
  html: ({ words, level, align }, context) => {
    if (!words.trim() && !context.editing) return html``
    const inner = html`${centred(align)}${editable(context, 'words')}>${lineOf(words, context)}`
    return new Html(`${openingTag(level)}${inner.markup}</h${level}>`)
  },
  css: 'h1{font-size:clamp(34px,5.2vw,54px);line-height:1.1}h2{font-size:clamp(26px,3.4vw,36px);line-height:1.2}h3{font-size:21px;line-height:1.3}',
}

export const text: PageBlock<Block<'text'>> = {
  html: ({ content }, context) => richTextHtml(content, context),
  css: '.text>*+*{margin-top:.8em}.text ul,.text ol{padding-left:1.3em}.text li+li{margin-top:.3em}',
}

export const list: PageBlock<Block<'list'>> = {
  html: ({ marker, items }, context) => {
    const tag = marker === 'ticks' ? 'ul' : 'ol'
    const lines = writtenEntries(items, context, (item) => item).map(
      (item, i) => html`<li${editable(context, `items.${i}`)}>${lineOf(item, context)}</li>`,
    )
    if (lines.length === 0) return html``
    return new Html(`<${tag} class="${marker}">${html`${lines}`.markup}</${tag}>`)
  },
  css: `.ticks,.numbers{list-style:none;padding:0;counter-reset:n}.ticks li,.numbers li{position:relative;padding-left:38px}.ticks li+li,.numbers li+li{margin-top:12px}.ticks li::before{content:'';position:absolute;left:6px;top:.12em;width:8px;height:15px;border:solid var(--accent);border-width:0 3px 3px 0;transform:rotate(42deg)}.numbers li::before{counter-increment:n;content:counter(n);position:absolute;left:0;top:.1em;width:25px;height:25px;border-radius:50%;background:var(--accent);color:var(--on);font:700 14px/25px var(--body);text-align:center}`,
}

type Quote = Block<'quotes'>['quotes'][number]

const quoteHtml = ({ words, name, about, picture }: Quote, i: number, context: PageContext): Html =>
  html`<figure><blockquote${editable(context, `quotes.${i}.words`)}>${withBreaks(lineOf(words, context))}</blockquote><figcaption>${
    picture !== null && pictureHtml(context, picture, '', '56px')
  }<span><strong${editable(context, `quotes.${i}.name`)}>${name}</strong>${
    (about || context.editing) && html`<br><span${editable(context, `quotes.${i}.about`)}>${about}</span>`
  }</span></figcaption></figure>`

export const quotes: PageBlock<Block<'quotes'>> = {
  html: ({ quotes: all }, context) =>
    html`<div class="said">
      ${writtenEntries(all, context, ({ words }) => words).map((quote, i) => quoteHtml(quote, i, context))}
    </div>`,
  css: `.said{display:grid;grid-template-columns:repeat(auto-fit,minmax(min(280px,100%),1fr));gap:28px}.said figure{margin:0;padding:24px;background:var(--bg);border-radius:var(--corner);border-left:4px solid var(--accent)}blockquote{margin:0 0 16px;font:500 19px/1.5 var(--head)}figcaption{display:flex;gap:14px;align-items:center;font-size:15px;line-height:1.4}figcaption img{width:56px;height:56px;object-fit:cover;border-radius:50%}`,
}

export const questions: PageBlock<Block<'questions'>> = {
  html: ({ items }, context) =>
    html`${writtenEntries(items, context, ({ question }) => question).map(
      ({ question, answer }, i) =>
        html`<details${context.editing && new Html(' open')}><summary${editable(context, `items.${i}.question`)}>${lineOf(question, context)}</summary><p${editable(context, `items.${i}.answer`)}>${withBreaks(lineOf(answer, context))}</p></details>`,
    )}`,
  css: `details{border-bottom:1px solid var(--line);padding:14px 0}details p{margin:10px 0 4px}summary{cursor:pointer;font-weight:650}`,
}
