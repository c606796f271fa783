import type { Vocabulary } from '../../../contract/audience/segments.ts'
import type { ActivityKind } from '../../../core/audience/people/activity.ts'

/** A part of a thing that can be asked for besides the thing: a result of a quiz, a rule of a junction. */
export interface PartChoice {
  detail: 'band' | 'result' | 'answers' | 'rule'
  label: string
  items: { value: string; title: string }[]
}

const choicesOf = (
  detail: PartChoice['detail'],
  label: string,
  any: string,
  parts: readonly { id: string; name: string }[] | undefined,
): PartChoice[] =>
  parts && parts.length > 0
    ? [
        {
          detail,
          label,
          items: [{ value: '', title: any }, ...parts.map(({ id, name }) => ({ value: id, title: name }))],
        },
      ]
    : []

/** What can be asked for within the thing that an activity is about. @param thing its id; 0 when it is any */
export function partChoices(words: Vocabulary, activity: ActivityKind, thing: number): PartChoice[] {
  switch (activity) {
    case 'bandReached':
    case 'bandLeft':
      return choicesOf('band', 'Band', 'any band', words.scorecards[thing]?.bands)
    case 'quizFinished':
      return [
        ...choicesOf('result', 'Result', 'with any result', words.parts.results[thing]),
        ...choicesOf('answers', 'Answer', 'and any answers', words.parts.answers[thing]),
      ]
    case 'junctionPassed':
      return choicesOf('rule', 'Rule', 'by any rule', [
        ...(words.parts.rules[thing] ?? []),
        ...(thing === 0 ? [] : [{ id: '-', name: 'otherwise' }]),
      ])
    default:
      return []
  }
}

/** What is asked for of a part now: one answer of several stands alone. */
export const askedPart = (value: unknown): string => String((Array.isArray(value) ? value[0] : value) ?? '')

/** The same as it is kept. */
export const keptPart = (detail: PartChoice['detail'], value: string): string | string[] =>
  detail === 'answers' && value !== '' ? [value] : value
