import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { numberedIds } from '../../testing/documents.ts'
import {
  answerId,
  countingQuestion,
  plainResult,
  pointsQuestion,
  quizId,
  quizOf,
} from '../../testing/quizzes.ts'
import { answersFor, faultOf, nextQuestion, questionsFor } from './asking.ts'
import { describeQuizChanges } from './describeQuiz.ts'
import { proveQuiz } from './proof/quizProof.ts'
import { answersOf, weight, type QuizContent } from './quiz.ts'
import * as edits from './quizEdits.ts'
import { renumberedQuiz } from './renumberQuiz.ts'
import { outcomeOf } from './scoring.ts'
import { quizStarts } from './startingPoints.ts'

const two = [plainResult(0), plainResult(1)]
const choose = (question: number, ...answers: number[]) => ({
  [quizId('question', question)]: answers.map((answer) => answerId(question, answer)),
})

describe('a result', () => {
  it('by type is what counts most; a tie is decided by the order, or by the answer to a chosen question', () => {
    const questions = [
      countingQuestion(0, [
        [1, 0],
        [0, 1],
      ]),
      countingQuestion(1, [
        [1, 0],
        [0, 1],
      ]),
    ]
    const split = { ...choose(0, 0), ...choose(1, 1) }
    const byOrder = outcomeOf(quizOf({ questions, results: two }), split)
    expect([byOrder.result?.id, byOrder.tied.length]).toEqual([quizId('result', 0), 2])
    const tie = { by: 'answer' as const, question: quizId('question', 1) }
    expect(outcomeOf(quizOf({ questions, results: two, tie }), split).result?.id).toBe(quizId('result', 1))
  })

  it('by points is the one whose range holds the sum, or the nearest; both: the sum first, then what counts most', () => {
    const results = [plainResult(0, { to: 3 }), plainResult(1, { from: 5 })]
    const quiz = quizOf({ by: 'points', questions: [pointsQuestion(0, [3, 4, 5, 9])], results })
    const got = [0, 1, 2, 3].map((answer) => outcomeOf(quiz, choose(0, answer)).result?.id)
    expect(got).toEqual([0, 0, 1, 1].map((n) => quizId('result', n)))
    const ranges = [plainResult(0, { to: 5 }), plainResult(1, { to: 5 }), plainResult(2, { from: 6 })]
    const question = countingQuestion(0, [[0, 1, 9]])
    const both = quizOf({ by: 'both', questions: [question], results: ranges })
    expect(outcomeOf(both, choose(0, 0)).result?.id).toBe(quizId('result', 1))
  })

  it('counts thousandths exactly, and refuses what lies between or beyond', () => {
    const quiz = quizOf({
      questions: [countingQuestion(0, [[0.1, 0.3]]), countingQuestion(1, [[0.2, 0]])],
      results: two,
    })
    // 0.1 + 0.2 is more than 0.3 in binary fractions; here they tie.
    expect(outcomeOf(quiz, { ...choose(0, 0), ...choose(1, 0) }).tied).toHaveLength(2)
    expect([0.0001, 2e9, -2e9, Number.NaN].map((each) => weight.safeParse(each).success)).toEqual([
      false,
      false,
      false,
      false,
    ])
    expect([-3, 0.125, 1e9].map((each) => weight.safeParse(each).success)).toEqual([true, true, true])
  })

  it('does not count what is skipped, nor what a skipped question would have skipped', () => {
    const quiz = quizOf({
      questions: [
        countingQuestion(0, [
          [1, 0],
          [0, 1],
        ]),
        countingQuestion(
          1,
          [
            [0, 9],
            [0, 0],
          ],
          { skippedBy: [answerId(0, 0)] },
        ),
        countingQuestion(
          2,
          [
            [0, 9],
            [0, 0],
          ],
          { skippedBy: [answerId(1, 0)] },
        ),
      ],
      results: two,
    })
    const given = { ...choose(0, 0), ...choose(1, 0), ...choose(2, 1) }
    expect(questionsFor(quiz, given, 's').map(({ id }) => id)).toEqual([
      quizId('question', 0),
      quizId('question', 2),
    ])
    expect(outcomeOf(quiz, given).result?.id).toBe(quizId('result', 0))
  })
})

describe('asking', () => {
  it('keeps one order for one seed, and has all orders (fast-check)', () => {
    const quiz = quizOf({
      shuffles: true,
      questions: [0, 1, 2].map((n) => countingQuestion(n, [[1], [0], [2]], { shuffles: true })),
      results: [plainResult(0)],
    })
    const orders = new Set<string>()
    fc.assert(
      fc.property(fc.string(), (seed) => {
        const order = questionsFor(quiz, {}, seed).map(({ id }) => id)
        expect(questionsFor(quiz, {}, seed).map(({ id }) => id)).toEqual(order)
        expect([...order].sort()).toEqual(quiz.questions.map(({ id }) => id))
        expect(answersFor(quiz.questions[0]!, seed)).toHaveLength(3)
        orders.add(order.join())
      }),
      { numRuns: 300 },
    )
    expect(orders.size).toBe(6)
  })

  it('ends when all is answered, or left open where that may be', () => {
    const quiz = quizOf({
      questions: [countingQuestion(0, [[1]]), countingQuestion(1, [[1]], { required: false })],
      results: two,
    })
    expect(nextQuestion(quiz, choose(0, 0), '')?.id).toBe(quizId('question', 1))
    expect(nextQuestion(quiz, { ...choose(0, 0), ...choose(1) }, '')).toBeNull()
    expect(faultOf(quiz.questions[1]!, [])).toBeNull()
    expect(faultOf(quiz.questions[0]!, [])).toBe('Please choose an answer')
  })

  it('says what is wrong with what was typed', () => {
    const number = edits.freshQuestion('number', numberedIds('number'))
    expect(['', 'many', '1e9', '12', '2,5', '-3'].map((typed) => faultOf(number, typed))).toEqual([
      'Please write an answer',
      'Please write a number, such as 12 or 2.5',
      'Please write a number, such as 12 or 2.5',
      null,
      null,
      null,
    ])
    const words = edits.freshQuestion('text', numberedIds('words'))
    expect(faultOf(words, 'x'.repeat(501))).toMatch(/500 letters/)
    expect(faultOf(words, 'a\u0000b')).toMatch(/special characters/)
  })
})

describe('starting points', () => {
  it.each(quizStarts.filter(({ id }) => id !== 'empty'))(
    '$name: everybody gets a result, and each can be got',
    ({ make }) => {
      const content = make(numberedIds('start'))
      const proof = proveQuiz(content)
      expect(proof.results.every(({ isReached }) => isReached)).toBe(true)
      expect([proof.gaps, proof.overlaps, proof.idleQuestions, proof.idleAnswers]).toEqual([[], [], [], []])
    },
  )
})

describe('edits', () => {
  const begun = (): QuizContent => quizStarts[0]!.make(numberedIds('edit'))

  it('take out what speaks of what is gone', () => {
    const content = begun()
    const [first] = content.questions
    const answer = answersOf(first!)[0]!
    const skipping = edits.setQuestion(content, { ...content.questions[1]!, skippedBy: [answer.id] })
    expect(edits.removeAnswer(skipping, first!.id, answer.id).questions[1]?.skippedBy).toEqual([])
    expect(edits.removeQuestion(skipping, first!.id).questions[0]?.skippedBy).toEqual([])
    const [result] = content.results
    const without = edits.removeResult(content, result!.id)
    expect(
      without.questions.flatMap((each) => answersOf(each)).some(({ counts }) => result!.id in counts),
    ).toBe(false)
  })

  it('move within their lists, and no further', () => {
    const content = begun()
    const ids = content.questions.map(({ id }) => id)
    expect(edits.shiftQuestion(content, ids[0]!, 1).questions.map(({ id }) => id)).toEqual([
      ids[1],
      ids[0],
      ids[2],
    ])
    expect(edits.shiftQuestion(content, ids[0]!, -1)).toEqual(content)
  })

  it('set and take out weights, and are told in words', () => {
    const content = begun()
    const question = content.questions[0]!
    const answer = answersOf(question)[0]!
    const result = content.results[2]!
    const counted = edits.setCount(content, question.id, answer.id, result.id, 3)
    expect(answersOf(counted.questions[0]!)[0]?.counts[result.id]).toBe(3)
    expect(describeQuizChanges(content, counted)).toEqual([`Changed the question “${question.words}”`])
    expect(edits.setCount(counted, question.id, answer.id, result.id, 0)).toEqual(content)
    const added = edits.insertQuestion(
      edits.insertResult(content, edits.freshResult('New', numberedIds('more'))),
      edits.freshQuestion('yesNo', numberedIds('yesno')),
      1,
    )
    expect(describeQuizChanges(content, added)).toEqual(['Added the question “”', 'Added the result “New”'])
  })

  it('give a copy ids of its own, with the same chances', () => {
    const content = begun()
    const copy = renumberedQuiz(content, numberedIds('copied'))
    const chances = (of: QuizContent) => proveQuiz(of).results.map(({ chance }) => chance)
    expect(chances(copy)).toEqual(chances(content))
    const ids = new Set(
      content.questions.flatMap((each) => [each.id, ...answersOf(each).map(({ id }) => id)]),
    )
    expect(copy.questions.some(({ id }) => ids.has(id))).toBe(false)
  })
})
