import type { Vocabulary } from '../../../contract/audience/segments.ts'

/** A part of a thing that can be asked for besides the thing: a result of a quiz, a rule of a junction. */
export interface PartChoice {
  detail: 'band' | 'result' | 'answers' | 'rule' | 'price'
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

/** What can be asked for within a thing. @param thing its id; 0 when it is any */
export type PartsOf = (words: Vocabulary, thing: number) => PartChoice[]

export const bandsOf: PartsOf = (words, card) =>
  choicesOf('band', 'Band', 'any band', words.scorecards[card]?.bands)

export const quizPartsOf: PartsOf = ({ parts }, quiz) => [
  ...choicesOf('result', 'Result', 'with any result', parts.results[quiz]),
  ...choicesOf('answers', 'Answer', 'and any answers', parts.answers[quiz]),
]

export const rulesOf: PartsOf = ({ parts }, junction) =>
  choicesOf('rule', 'Rule', 'by any rule', [
    ...(parts.rules[junction] ?? []),
    ...(junction === 0 ? [] : [{ id: '-', name: 'otherwise' }]),
  ])

export const pricesOf: PartsOf = ({ parts }, product) =>
  choicesOf('price', 'Price', 'at any price', parts.prices[product])

/** What is asked for of a part now: one answer of several stands alone. */
export const askedPart = (value: unknown): string => String((Array.isArray(value) ? value[0] : value) ?? '')

/** The same as it is kept. */
export const keptPart = (detail: PartChoice['detail'], value: string): string | string[] =>
  detail === 'answers' && value !== '' ? [value] : value
