import type { Queries } from '../../server/database/connect.ts'
import type { Person } from '../person.ts'
import { createField, createNamed, createTag } from './create.ts'

const day = 86_400_000
const name = 'Which binding suits you?'

/** The quiz's results, with the words of the field that asks for the same, and how many get them. */
const bindings = [
  ['Long-stitch', 'long-stitch', 40],
  ['Coptic', 'coptic', 35],
  ['Case-bound', 'case-bound', 25],
] as const

export interface Quiz {
  id: number
  /** Tags by result. */
  results: Record<string, number>
  /** The field "Favourite binding". */
  field: number
}

export async function make(q: Queries, at: Date): Promise<Quiz> {
  const results: Record<string, number> = {}
  for (const [result] of bindings)
    results[result] = await createTag(q, `Quiz: ${result}`, `The quiz said ${result}`, at)
  return {
    id: await createNamed(q, 'quiz', name, at),
    results,
    field: await createField(
      q,
      'Favourite binding',
      'oneOf',
      bindings.map(([label, id]) => ({ id, label })),
      at,
    ),
  }
}

/** Finishes the quiz, or never begins it. */
export function live(person: Person, quiz: Quiz): void {
  const { chance } = person
  if (!chance.flip(0.12 + person.keen * 0.3)) return
  const at = person.arrival + chance.delay(12 * day)
  const [result, option] = chance.weighted(
    bindings.map(([label, id, weight]) => [[label, id] as const, weight] as const),
  )
  if (!person.did({ kind: 'quizFinished', at, details: { quiz: quiz.id, result } })) return
  person.fields[quiz.field] = option
  person.addTag(quiz.results[result] ?? 0, at + 1000, `quiz ${name}`)
}
