/** Markup that is safe to put into a page. */
export class Html {
  constructor(readonly markup: string) {}
}

/** What may stand in a template: markup as it is, texts escaped. */
export type HtmlValue = Html | string | number | false | null | undefined | readonly HtmlValue[]

const entities: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
}

function escape(value: HtmlValue): string {
  if (value instanceof Html) return value.markup
  if (value === false || value === null || value === undefined) return ''
  if (typeof value === 'object') return value.map(escape).join('')
  return String(value).replace(/[&<>"']/g, (character) => entities[character] ?? '')
}

const collapsed = new WeakMap<TemplateStringsArray, readonly string[]>()

/** The fixed parts of a template without the line breaks and indents that it is written with. */
function fixedParts(parts: TemplateStringsArray): readonly string[] {
  const known = collapsed.get(parts) ?? parts.map((part) => part.replace(/\s*\n\s*/g, ' '))
  collapsed.set(parts, known)
  return known
}

/** A page's markup. Every value is escaped unless it is `Html` itself; `false` and nothing leave no trace. */
export function html(parts: TemplateStringsArray, ...values: HtmlValue[]): Html {
  return new Html(
    fixedParts(parts)
      .map((part, i) => part + (i < values.length ? escape(values[i]) : ''))
      .join(''),
  )
}
