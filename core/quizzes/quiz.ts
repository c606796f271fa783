import { z } from 'zod'
import { blockDocument } from '../blocks/document.ts'
import { line, sentences } from '../blocks/kinds/blockKind.ts'
import { referenceId } from '../blocks/reference.ts'
import { partId } from '../blocks/richText.ts'
import { nowhere, target } from '../blocks/target.ts'
import { quizAction } from './quizAction.ts'

/** Far more than anybody answers. */
export const mostQuestions = 40
export const mostAnswers = 12
export const mostResults = 12

/** What one unit of a weight is counted in: sums of thousandths are exact, so that ties are ties. */
export const fractions = 1_000

/** How much an answer counts. */
export const weight = z
  .number()
  .min(-1e9, 'A weight is a billion at most')
  .max(1e9, 'A weight is a billion at most')
  .refine(
    (value) => Math.abs(value * fractions - Math.round(value * fractions)) < 1e-4,
    'A weight has three decimals at most',
  )

/** A weight in whole thousandths. */
export const inFractions = (value: number): number => Math.round(value * fractions)

/** A number of fractions as it is written. */
export const inUnits = (value: number): number => value / fractions

const picture = referenceId.nullable().default(null)
const actions = z.array(quizAction).max(12).default([])

const answerShape = {
  id: partId,
  words: line.default(''),
  picture,
  /** What it counts for each result, by the result's id; nothing where it is missing. */
  counts: z.record(partId, weight).default({}),
  /** What it adds to the sum. */
  points: weight.default(0),
  /** How many of a hundred are expected to choose it; null where nobody has said. */
  expected: z.number().min(0).max(100).nullable().default(null),
  actions,
}

export const quizAnswer = z.strictObject(answerShape)
export type QuizAnswer = z.infer<typeof quizAnswer>

/** Numbers from here on, up to the next answer's. */
const numberAnswer = z.strictObject({ ...answerShape, from: z.number().nullable().default(null) })

const answers = z.array(quizAnswer).max(mostAnswers, `A question has ${mostAnswers} answers at most`)
const questionShape = {
  id: partId,
  words: line.default(''),
  help: line.default(''),
  picture,
  required: z.boolean().default(true),
  /** Answers of earlier questions: who has given one of them is not asked this. */
  skippedBy: z.array(partId).max(40).default([]),
}
const field = referenceId.nullable().default(null)

export const quizQuestion = z.discriminatedUnion('asks', [
  z.strictObject({ asks: z.literal('one'), ...questionShape, answers, shuffles: z.boolean().default(false) }),
  z.strictObject({
    asks: z.literal('several'),
    ...questionShape,
    answers,
    shuffles: z.boolean().default(false),
    /** So many can be chosen; as many as there are when null. */
    most: z.number().int().min(1).max(mostAnswers).nullable().default(null),
  }),
  /** Answers are the steps, from the lowest on. */
  z.strictObject({
    asks: z.literal('scale'),
    ...questionShape,
    answers,
    low: line.default(''),
    high: line.default(''),
  }),
  z.strictObject({ asks: z.literal('yesNo'), ...questionShape, answers }),
  z.strictObject({
    asks: z.literal('number'),
    ...questionShape,
    answers: z.array(numberAnswer).max(mostAnswers),
    /** The own field that takes what is typed. */
    field,
  }),
  z.strictObject({ asks: z.literal('text'), ...questionShape, field }),
])
export type QuizQuestion = z.infer<typeof quizQuestion>
export type QuestionKind = QuizQuestion['asks']

/** The answers that a question can count by: none for what is written freely. */
export const answersOf = (question: QuizQuestion): readonly QuizAnswer[] =>
  question.asks === 'text' ? [] : question.answers

export const quizResult = z.strictObject({
  id: partId,
  name: line,
  /** The sums that give it, both ends among them; open where null. */
  from: weight.nullable().default(null),
  to: weight.nullable().default(null),
  shows: z.discriminatedUnion('by', [
    z.strictObject({ by: z.literal('page'), document: blockDocument }),
    z.strictObject({ by: z.literal('target'), target: target.default(nowhere) }),
  ]),
  actions,
  /** What others see of it who get its address; the name and the quiz's own words where empty. */
  sharing: z.strictObject({ title: line.default(''), words: line.default(''), picture }).default({
    title: '',
    words: '',
    picture: null,
  }),
})
export type QuizResult = z.infer<typeof quizResult>

export const countedBy = z.enum(['type', 'points', 'both'])
export type CountedBy = z.infer<typeof countedBy>

/** Ways to pass a result on. */
export const shareButton = z.enum(['copy', 'email', 'device'])
export type ShareButton = z.infer<typeof shareButton>

/** What a version of a quiz holds. */
export const quizContent = z
  .strictObject({
    by: countedBy.default('type'),
    title: line.default(''),
    /** What visitors see before the first question; straight to it when null. */
    cover: z
      .strictObject({ words: sentences.default(''), picture, button: z.string().max(80).default('Begin') })
      .nullable()
      .default(null),
    questions: z
      .array(quizQuestion)
      .max(mostQuestions, `A quiz has ${mostQuestions} questions at most`)
      .default([]),
    results: z.array(quizResult).max(mostResults, `A quiz has ${mostResults} results at most`).default([]),
    /** Who gets it when several results count alike: the first of them, or the one that an answer speaks for most. */
    tie: z
      .discriminatedUnion('by', [
        z.strictObject({ by: z.literal('order') }),
        z.strictObject({ by: z.literal('answer'), question: partId }),
      ])
      .default({ by: 'order' }),
    /** Questions come in an order of each person's own. */
    shuffles: z.boolean().default(false),
    address: z
      .strictObject({
        ask: z.enum(['before', 'after', 'skippable', 'never']).default('before'),
        form: referenceId.nullable().default(null),
        /** Why it is worth it. */
        words: sentences.default(''),
      })
      .default({ ask: 'before', form: null, words: '' }),
    takes: z.enum(['once', 'many']).default('many'),
    /** Below a result: how many got each. */
    showsShares: z.boolean().default(false),
    share: z
      .strictObject({
        buttons: z.array(shareButton).max(3).default([]),
        place: z.enum(['above', 'below']).default('below'),
      })
      .default({ buttons: [], place: 'below' }),
  })
  .refine(({ questions, results }) => {
    const ids = [
      ...questions.flatMap((each) => [each.id, ...answersOf(each).map(({ id }) => id)]),
      ...results.map(({ id }) => id),
    ]
    return new Set(ids).size === ids.length
  }, 'Each part needs an id of its own')
export type QuizContent = z.infer<typeof quizContent>
