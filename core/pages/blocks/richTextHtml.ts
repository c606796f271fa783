import { mergedValue, mergeFieldWords } from '../../blocks/mergeText.ts'
import type { Inline, ListItem, Mark, Paragraph, RichNode, RichText } from '../../blocks/richText.ts'
import { Html, html } from '../../html.ts'
import { linked, type PageContext } from '../context.ts'

function marked(inner: Html, mark: Mark, context: PageContext): Html {
  switch (mark.type) {
    case 'bold':
      return html`<strong>${inner}</strong>`
    case 'italic':
      return html`<em>${inner}</em>`
    case 'link':
      return linked(context, mark.attrs.target, inner)
  }
}

function inlineHtml(each: Inline, context: PageContext): Html {
  const words = (): Html => {
    switch (each.type) {
      case 'text':
        return html`${each.text}`
      case 'hardBreak':
        return new Html('<br>')
      case 'mergeField':
        return html`${
          context.editing
            ? `{${mergeFieldWords[each.attrs.field]}}`
            : mergedValue(context.reader, each.attrs.field, each.attrs.fallback)
        }`
    }
  }
  return (each.marks ?? []).reduceRight((inner, mark) => marked(inner, mark, context), words())
}

const paragraphHtml = ({ content = [] }: Paragraph, context: PageContext): Html =>
  html`${content.map((each) => inlineHtml(each, context))}`

function itemHtml({ content }: ListItem, context: PageContext): Html {
  const [only, ...more] = content
  if (only && more.length === 0) return html`<li>${paragraphHtml(only, context)}</li>`
  return html`<li>${content.map((each) => html`<p>${paragraphHtml(each, context)}</p>`)}</li>`
}

function nodeHtml(node: RichNode, context: PageContext): Html {
  switch (node.type) {
    case 'paragraph':
      return html`<p>${paragraphHtml(node, context)}</p>`
    case 'bulletList':
      return html`<ul>
        ${node.content.map((item) => itemHtml(item, context))}
      </ul>`
    case 'orderedList':
      return html`<ol>
        ${node.content.map((item) => itemHtml(item, context))}
      </ol>`
  }
}

/** Rich text as HTML; every text is escaped, every link goes by the context. */
export const richTextHtml = (text: RichText, context: PageContext): Html =>
  html`${text.content.map((node) => nodeHtml(node, context))}`
