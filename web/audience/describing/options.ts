import type { FieldKind, FieldOption } from '../../../core/audience/describing/field.ts'

/** What the types of own fields are called. */
export const fieldKindWords: Readonly<Record<FieldKind, string>> = {
  text: 'text',
  number: 'number',
  date: 'date',
  yesNo: 'yes or no',
  oneOf: 'one of several',
  manyOf: 'several of many',
}
export const fieldKindItems = Object.entries(fieldKindWords).map(([value, title]) => ({ value, title }))

/**
 * The choices of a field from what was typed, one a line. A line that stands already keeps its id; a new line in the
 * place of one that is gone is that choice renamed, and keeps its id too, so that nobody's answer is lost.
 */
export function optionsFrom(text: string, known: readonly FieldOption[]): FieldOption[] {
  const labels = [...new Set(text.split('\n').map((line) => line.trim()))].filter(Boolean)
  const taken = new Set(known.map(({ id }) => id))
  return labels.map((label, i) => {
    const same = known.find((each) => each.label === label)
    if (same) return same
    const before = known[i]
    if (before && !labels.includes(before.label)) return { id: before.id, label }
    const id = freeId(label, taken)
    taken.add(id)
    return { id, label }
  })
}

function freeId(label: string, taken: ReadonlySet<string>): string {
  const plain =
    label
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 30) || 'option'
  let id = plain
  for (let n = 2; taken.has(id); n += 1) id = `${plain}-${n}`
  return id
}
