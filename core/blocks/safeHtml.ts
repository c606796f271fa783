import sanitize from 'sanitize-html'

/**
 * Own HTML without what could do harm: no script, no style, nothing that loads from elsewhere, no form. Applied when it
 * is saved and again when it is shown.
 */
export const safeHtml = (markup: string): string =>
  sanitize(markup, {
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
