import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  answerId,
  countingQuestion,
  plainResult,
  pointsQuestion,
  quizId,
  quizOf,
} from '../../../testing/quizzes.ts'
import { answersOf, type QuizContent } from '../quiz.ts'
import { outcomeOf, questionsAsked, type Given } from '../scoring.ts'
import { canDecide, chancesOf } from './chances.ts'
import { nearestTo } from './nearest.ts'
import { optionsOf } from './options.ts'
import { pathLengths } from './paths.ts'
import { proveQuiz } from './quizProof.ts'

/** Every way to take a quiz, with how likely it is: one by one. */
function* everyWay(content: QuizContent): Generator<{ given: Given; chance: number }> {
  function* from(at: number, given: Given, chance: number): Generator<{ given: Given; chance: number }> {
    const question = content.questions[at]
    if (!question) {
      yield { given, chance }
      return
    }
    if (!questionsAsked(content, given).includes(question)) {
      yield* from(at + 1, given, chance)
      return
    }
    for (const option of optionsOf(question, content, null))
      yield* from(at + 1, { ...given, [question.id]: option.answers }, chance * option.chance)
  }
  yield* from(0, {}, 1)
}

const die = [1, 2, 3, 4, 5, 6]

describe('sums', () => {
  it('of three dice: ten comes 27 times of 216 (elementary probability)', () => {
    const dice = quizOf({
      by: 'points',
      questions: [0, 1, 2].map((n) => pointsQuestion(n, die)),
      results: [plainResult(0)],
    })
    const sums = chancesOf(dice)!.sums
    expect(sums.map(({ sum }) => sum)).toEqual([...Array(16).keys()].map((n) => n + 3))
    expect(sums.find(({ sum }) => sum === 10)?.chance).toBeCloseTo(27 / 216, 14)
    expect(sums.reduce((all, { chance }) => all + chance, 0)).toBeCloseTo(1, 14)
  })

  it('of yes and no follow the binomial distribution, evenly and with given shares', () => {
    const n = 20
    const binomial = (k: number, p: number): number => {
      let ways = 1
      for (let i = 0; i < k; i += 1) ways = (ways * (n - i)) / (i + 1)
      return ways * p ** k * (1 - p) ** (n - k)
    }
    const quiz = quizOf({
      by: 'points',
      questions: Array.from({ length: n }, (_, i) => pointsQuestion(i, [1, 0])),
      results: [plainResult(0)],
    })
    for (const p of [0.5, 0.3]) {
      const shares = Object.fromEntries(
        quiz.questions.flatMap((_, i) => [
          [answerId(i, 0), p],
          [answerId(i, 1), 1 - p],
        ]),
      )
      const { sums } = chancesOf(quiz, shares)!
      for (const { sum, chance } of sums) expect(chance).toBeCloseTo(binomial(sum, p), 12)
    }
  })

  it('are told exactly of fractions, negative weights and a billion', () => {
    const quiz = quizOf({
      by: 'points',
      questions: [
        pointsQuestion(0, [0.1, -1e9]),
        pointsQuestion(1, [0.2, 0]),
        pointsQuestion(2, [1e9, -0.3]),
      ],
      results: [plainResult(0)],
    })
    const sums = chancesOf(quiz)!.sums.map(({ sum }) => sum)
    expect(sums).toContain(0)
    expect(sums).toContain(1_000_000_000.3)
    expect(sums).toHaveLength(7)
  })
})

/** Quizzes small enough to go through one by one. */
const anyQuiz = fc
  .record({
    by: fc.constantFrom('type', 'points', 'both' as const),
    results: fc.integer({ min: 1, max: 4 }),
    rows: fc.array(
      fc.array(fc.array(fc.integer({ min: -1, max: 3 }), { minLength: 5, maxLength: 5 }), {
        minLength: 2,
        maxLength: 4,
      }),
      {
        minLength: 1,
        maxLength: 4,
      },
    ),
    several: fc.array(fc.constantFrom(null, 1, 2), { minLength: 4, maxLength: 4 }),
    required: fc.array(fc.boolean(), { minLength: 4, maxLength: 4 }),
    skips: fc.array(fc.option(fc.tuple(fc.nat(3), fc.nat(3)), { freq: 3 }), { minLength: 4, maxLength: 4 }),
    tie: fc.option(fc.nat(3)),
    limits: fc.array(fc.integer({ min: -2, max: 8 }), { minLength: 4, maxLength: 4 }),
  })
  .map(({ by, results, rows, several, required, skips, tie, limits }) => {
    const questions = rows.map((answers, n) => {
      const skip = skips[n]
      const of =
        skip && skip[0] < n && skip[1] < (rows[skip[0]]?.length ?? 0) ? [answerId(skip[0], skip[1])] : []
      const question = countingQuestion(
        n,
        answers.map((row) => row.slice(0, results)),
        {
          required: required[n],
          skippedBy: of,
          ...(several[n] !== null && { asks: 'several', most: several[n] }),
        },
      )
      if ('answers' in question)
        question.answers = question.answers.map((each, i) => ({ ...each, points: answers[i]?.[4] ?? 0 }))
      return question
    })
    return quizOf({
      by,
      questions,
      results: Array.from({ length: results }, (_, n) =>
        plainResult(n, by === 'type' ? {} : { from: limits[n], to: (limits[n] ?? 0) + 2 }),
      ),
      ...(tie !== null && tie < rows.length && { tie: { by: 'answer', question: quizId('question', tie) } }),
    })
  })

describe('chances', () => {
  it('are those of going through every way to answer (fast-check)', () => {
    fc.assert(
      fc.property(anyQuiz, (quiz) => {
        const counted = new Map(quiz.results.map(({ id }) => [id, 0]))
        let ties = 0
        const lengths = new Set<number>()
        for (const { given, chance } of everyWay(quiz)) {
          const { result, tied } = outcomeOf(quiz, given)
          counted.set(result!.id, counted.get(result!.id)! + chance)
          if (tied.length > 0) ties += chance
          lengths.add(questionsAsked(quiz, given).length)
        }
        const chances = chancesOf(quiz)!
        quiz.results.forEach(({ id }, i) => {
          expect(chances.results[i]!.least).toBeCloseTo(counted.get(id)!, 12)
          expect(chances.results[i]!.most).toBe(chances.results[i]!.least)
        })
        if (quiz.by !== 'points') expect(chances.ties.least).toBeCloseTo(ties, 12)
        expect(pathLengths(quiz)).toEqual({ shortest: Math.min(...lengths), longest: Math.max(...lengths) })
      }),
      { numRuns: 300 },
    )
  })

  it('say who never gets there, and how near one comes, as going through every way does (fast-check)', () => {
    fc.assert(
      fc.property(anyQuiz, (quiz) => {
        const reached = new Set<string>()
        const nearest = quiz.results.map(() => Infinity)
        for (const { given } of everyWay(quiz)) {
          const { result, counts } = outcomeOf(quiz, given)
          reached.add(result!.id)
          quiz.results.forEach(({ id }, i) => {
            const others = quiz.results.flatMap((each) => (each.id === id ? [] : [counts[each.id]!]))
            nearest[i] = Math.min(nearest[i]!, Math.max(0, ...others.map((count) => count - counts[id]!)))
          })
        }
        const proof = proveQuiz(quiz)
        proof.results.forEach(({ id, isReached, nearest: found }, i) => {
          expect(isReached).toBe(reached.has(id))
          if (quiz.by !== 'type' || isReached) return
          expect(found!.behind).toBeCloseTo(nearest[i]!, 9)
          expect(outcomeOf(quiz, found!.answers).result!.id).toBe(quiz.results[found!.winner]!.id)
        })
      }),
      { numRuns: 300 },
    )
  })

  it('name the questions that change nothing, and no other (fast-check)', () => {
    fc.assert(
      fc.property(anyQuiz, (quiz) => {
        const depends = quiz.questions.some(({ skippedBy }) => skippedBy.length > 0)
        const proof = proveQuiz(quiz)
        for (const question of quiz.questions) {
          let changes = false
          for (const { given } of everyWay(quiz)) {
            if (given[question.id] === undefined) continue
            const all = optionsOf(question, quiz, null).map(
              ({ answers }) => outcomeOf(quiz, { ...given, [question.id]: answers }).result?.id,
            )
            changes ||= new Set(all).size > 1
          }
          if (proof.idleQuestions.includes(question.id)) expect(changes).toBe(false)
          // Where questions skip each other only what is plain to see is said.
          if (!depends && !changes && quiz.results.length > 1)
            expect(proof.idleQuestions).toContain(question.id)
        }
      }),
      { numRuns: 150 },
    )
  })

  it('of many results over many questions hold in a range, when there are too many sums to keep', () => {
    const shift = (n: number, a: number) =>
      [...Array(8).keys()].map((r) => ((n * 5 + a * 3 + r * 7) % 11 < 4 ? ((n + a + r) % 3) + 1 : 0))
    const quiz = quizOf({
      questions: [...Array(9).keys()].map((n) =>
        countingQuestion(
          n,
          [...Array(6).keys()].map((a) => shift(n, a)),
        ),
      ),
      results: [...Array(8).keys()].map((n) => plainResult(n)),
    })
    const chances = chancesOf(quiz)!
    const least = chances.results.reduce((sum, each) => sum + each.least, 0)
    const width = chances.results[0]!.most - chances.results[0]!.least
    expect(least + width).toBeCloseTo(1, 9)
  })
})

describe('what a quiz cannot give', () => {
  it('is a result that nobody gets, with the nearest miss', () => {
    const quiz = quizOf({
      questions: [
        countingQuestion(0, [
          [2, 0, 1],
          [0, 2, 1],
        ]),
        countingQuestion(1, [
          [2, 0, 0],
          [0, 2, 1],
        ]),
      ],
      results: [plainResult(0), plainResult(1), plainResult(2)],
    })
    const [, , third] = proveQuiz(quiz).results
    expect(third).toMatchObject({ isReached: false, chance: { least: 0, most: 0 } })
    expect(nearestTo(quiz, 2)).toEqual({
      isReached: false,
      isCertain: true,
      answers: { [quizId('question', 0)]: [answerId(0, 0)], [quizId('question', 1)]: [answerId(1, 1)] },
      behind: 0,
      winner: 0,
    })
  })

  it('are sums between ranges, and those that two take', () => {
    const quiz = quizOf({
      by: 'points',
      questions: [0, 1].map((n) => pointsQuestion(n, die)),
      results: [
        plainResult(0, { to: 4 }),
        plainResult(1, { from: 6, to: 9 }),
        plainResult(2, { from: 9, to: 11 }),
        plainResult(3, { from: 14 }),
      ],
    })
    const proof = proveQuiz(quiz)
    expect(proof.gaps).toEqual([
      { from: 5, to: 5, results: [] },
      { from: 12, to: 12, results: [] },
    ])
    expect(proof.overlaps).toEqual([{ from: 9, to: 9, results: [quizId('result', 1), quizId('result', 2)] }])
    expect(proof.results[3]).toMatchObject({ isReached: false, nearestSum: { sum: 12, off: 2 } })
  })

  it('is told by an answer that counts nothing, and a question of which all count alike', () => {
    const quiz = quizOf({
      questions: [
        countingQuestion(0, [
          [1, 0],
          [0, 1],
          [0, 0],
        ]),
        countingQuestion(1, [
          [1, 1],
          [2, 2],
        ]),
      ],
      results: [plainResult(0), plainResult(1)],
    })
    expect(proveQuiz(quiz)).toMatchObject({
      idleAnswers: [answerId(0, 2)],
      idleQuestions: [quizId('question', 1)],
    })
    expect(canDecide(quiz, quizId('question', 0))).toBe(true)
    expect(answersOf(quiz.questions[0]!)).toHaveLength(3)
  })
})
