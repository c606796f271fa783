import { HtmlValidate } from 'html-validate'

// The validity that counts is the standard's (WHATWG HTML); rules of taste are off.
const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: {
    'no-dup-id': 'error',
    'attribute-boolean-style': 'off',
    'no-trailing-whitespace': 'off',
    'void-style': 'off',
    'doctype-style': 'off',
    'long-title': 'off',
    'no-inline-style': 'error',
    // What a marketer leaves out is found by the checks of the page, not by the standard.
    'text-content': 'off',
    'wcag/h30': 'off',
    'empty-heading': 'off',
  },
})

/** What makes a page no valid HTML. */
export const faultsOf = (markup: string): string[] =>
  validator
    .validateStringSync(markup)
    .results.flatMap(({ messages }) =>
      messages.map(({ ruleId, message, selector }) => `${ruleId}: ${message} ${selector}`),
    )

/**
 * Everything that a browser would run, or load from somebody else.
 * @param own the origin of the page itself
 */
export function dangersIn(markup: string, own: string): string[] {
  // Values are escaped, so that a quotation mark always ends one.
  const tags = markup.replace(/"[^"]*"/g, '""')
  const outside = markup
    .replaceAll(own, '')
    .replace(/ href="https?:[^"]*"/g, '')
    .replace(/ data-frame="[^"]*"/g, '')
  return [
    ...(markup.match(/<script(?! src="\/assets\/(?:page|order)[\w.-]*\.js" defer>)[^>]*>/gi) ?? []),
    ...(tags.match(/<[^>]+\son\w+\s*=/gi) ?? []),
    ...(markup.match(/(?:href|src|action)="\s*(?:javascript|data|vbscript):/gi) ?? []),
    ...(outside.match(/(?:src|srcset|action|href)="(?:https?:)?\/\/[^"]*"/gi) ?? []),
    ...(tags.match(/<(?:iframe|object|embed|base)\b/gi) ?? []),
  ]
}
