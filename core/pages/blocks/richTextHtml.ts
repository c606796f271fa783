import { writtenField, type MergeField } from '../../blocks/mergeText.ts'
import { mergedValue } from '../../blocks/mergeValues.ts'
import type { Inline, ListItem, Mark, Paragraph, RichNode, RichText } from '../../blocks/richText.ts'
import type { Target } from '../../blocks/target.ts'
import { Html, html } from '../../html.ts'
import { linked, type PageContext } from '../context.ts'

/** What differs between pages and emails in a rich text. */
export interface RichTextMedium {
  words: (text: string) => Html
  link: (inner: Html, link: { id: string; target: Target }) => Html
  field: (field: MergeField) => Html
  /** Paragraphs without a word keep their height. */
  keepsEmpty: boolean
}

function marked(inner: Html, mark: Mark, medium: RichTextMedium): Html {
  switch (mark.type) {
    case 'bold':
      return html`<strong>${inner}</strong>`
    case 'italic':
      return html`<em>${inner}</em>`
    case 'link':
      return medium.link(inner, mark.attrs)
  }
}

function inlineHtml(each: Inline, medium: RichTextMedium): Html {
  const words = (): Html => {
    switch (each.type) {
      case 'text':
        return medium.words(each.text)
      case 'hardBreak':
        return new Html('<br>')
      case 'mergeField':
        return medium.field(each.attrs)
    }
  }
  return (each.marks ?? []).reduceRight((inner, mark) => marked(inner, mark, medium), words())
}

const paragraphHtml = ({ content = [] }: Paragraph, medium: RichTextMedium): Html =>
  html`${content.map((each) => inlineHtml(each, medium))}`

function itemHtml({ content }: ListItem, medium: RichTextMedium): Html {
  const [only, ...more] = content
  if (only && more.length === 0) return html`<li>${paragraphHtml(only, medium)}</li>`
  return html`<li>${content.map((each) => html`<p>${paragraphHtml(each, medium)}</p>`)}</li>`
}

function nodeHtml(node: RichNode, medium: RichTextMedium): Html {
  switch (node.type) {
    case 'paragraph':
      return html`<p>${paragraphHtml(node, medium)}</p>`
    case 'bulletList':
      return html`<ul>
        ${node.content.map((item) => itemHtml(item, medium))}
      </ul>`
    case 'orderedList':
      return html`<ol>
        ${node.content.map((item) => itemHtml(item, medium))}
      </ol>`
  }
}

const isEmpty = (node: RichNode): boolean =>
  node.type === 'paragraph' && !node.content?.some((each) => each.type !== 'text' || each.text.trim() !== '')

/** Rich text as HTML; every text is escaped. */
export const richTextMarkup = ({ content }: RichText, medium: RichTextMedium): Html =>
  html`${content.filter((node) => medium.keepsEmpty || !isEmpty(node)).map((node) => nodeHtml(node, medium))}`

/** Rich text as it stands on a page; every link goes by the context. */
export const richTextHtml = (text: RichText, context: PageContext): Html =>
  richTextMarkup(text, {
    words: (words) => html`${words}`,
    link: (inner, { target }) => linked(context, target, inner),
    field: (field) =>
      html`${(context.editing ? undefined : mergedValue(context.reader, field)) ?? writtenField(field)}`,
    keepsEmpty: true,
  })
