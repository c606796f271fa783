import sanitize, { type IOptions } from 'sanitize-html'

/**
 * Own HTML without what could do harm: no script, no style, nothing that loads from elsewhere, no form. Applied when it
 * is saved and again when it is shown.
 */
export const safeHtml = (markup: string): string => settled(markup, options)

/**
 * Sanitised until it says the same again: an element that is left out still decides how the parser nests those around
 * it, so the first result may be read otherwise the next time. Each pass only closes elements sooner; a handful does.
 */
const settled = (markup: string, rules: IOptions): string => {
  let before = markup
  for (let pass = 0; pass < 8; pass++) {
    const after = sanitize(before, rules)
    if (after === before) break
    before = after
  }
  return before
}

const options: IOptions = {
  allowedTags: [
      'p', 'br', 'hr', 'strong', 'b', 'em', 'i', 'u', 's', 'small', 'sub', 'sup', 'mark', 'code', 'pre', 'kbd',
      'blockquote', 'q', 'cite', 'abbr', 'h2', 'h3', 'h4', 'ul', 'ol', 'li', 'dl', 'dt', 'dd', 'a', 'div', 'span',
      'table', 'caption', 'thead', 'tbody', 'tfoot', 'tr', 'th', 'td', 'details', 'summary', 'figure', 'figcaption',
      'address', 'time',
    ], // prettier-ignore
  allowedAttributes: {
    a: ['href', 'title'],
    abbr: ['title'],
    th: ['scope', 'colspan', 'rowspan'],
    td: ['colspan', 'rowspan'],
    time: ['datetime'],
    ol: ['start'],
    '*': ['lang', 'dir'],
  },
  allowedSchemes: ['http', 'https', 'mailto'],
  allowProtocolRelative: false,
  parseStyleAttributes: false,
}

/** Sizes and colours: nothing that loads, runs, or lies over something else. */
const plainValue = [/^(?!.*(url|expression|var)\s*\()[\w\s#%.,()'"!/-]+$/i]
const styles = [
  'background', 'background-color', 'border', 'border-bottom', 'border-collapse', 'border-left', 'border-radius',
  'border-right', 'border-spacing', 'border-top', 'color', 'display', 'font', 'font-family', 'font-size', 'font-style',
  'font-weight', 'height', 'letter-spacing', 'line-height', 'list-style', 'margin', 'margin-bottom', 'margin-left',
  'margin-right', 'margin-top', 'max-width', 'min-width', 'padding', 'padding-bottom', 'padding-left',
  'padding-right', 'padding-top', 'text-align', 'text-decoration', 'text-transform', 'vertical-align', 'white-space',
  'width', 'word-break',
] // prettier-ignore
const box = ['align', 'bgcolor', 'border', 'cellpadding', 'cellspacing', 'height', 'valign', 'width']

/**
 * Own HTML of an email: besides, what mailboxes need written into the elements, since they read no style sheet, and
 * pictures of the Library or of a web address.
 */
export const safeEmailHtml = (markup: string): string =>
  settled(markup, {
    ...options,
    allowedTags: [...(options.allowedTags || []), 'h1', 'img', 'center', 'font'],
    allowedAttributes: {
      ...options.allowedAttributes,
      table: [...box, 'role'],
      tr: box,
      th: [...box, 'scope', 'colspan', 'rowspan'],
      td: [...box, 'colspan', 'rowspan'],
      img: ['src', 'alt', 'width', 'height', 'border'],
      font: ['color', 'face', 'size'],
      '*': ['lang', 'dir', 'style'],
    },
    allowedSchemesByTag: { img: ['https', 'http'] },
    parseStyleAttributes: true,
    allowedStyles: { '*': Object.fromEntries(styles.map((name) => [name, plainValue])) },
  })

/** Code for a page's head: only what describes the page; no script, no style. */
export const safeHeadCode = (markup: string): string =>
  sanitize(markup, {
    allowedTags: ['meta', 'link'],
    allowedAttributes: { meta: ['name', 'content', 'property'], link: ['rel', 'href', 'hreflang', 'type'] },
    selfClosing: ['meta', 'link'],
    allowedSchemes: ['https'],
    exclusiveFilter: ({ tag, attribs }) =>
      tag === 'link'
        ? !['me', 'author', 'license', 'alternate'].includes(attribs.rel ?? '')
        : !attribs.content || !(attribs.name || attribs.property),
    textFilter: () => '',
  })
