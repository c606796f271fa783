import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { numberedIds } from '../../testing/documents.ts'
import { answerId, countingQuestion, plainResult, quizId, quizOf } from '../../testing/quizzes.ts'
import { answersOf, quizContent, type QuestionKind, type QuizContent } from './quiz.ts'
import * as edits from './quizEdits.ts'
import { outcomeOf } from './scoring.ts'

const kinds: readonly QuestionKind[] = ['one', 'several', 'scale', 'yesNo', 'number', 'text']
const start = (): QuizContent =>
  quizOf({
    title: 'Which one?',
    questions: [
      countingQuestion(0, [
        [2, 0],
        [0, 2],
      ]),
      countingQuestion(
        1,
        [
          [1, 0],
          [0, 1],
        ],
        { skippedBy: [answerId(0, 1)] },
      ),
    ],
    results: [plainResult(0), plainResult(1)],
  })

/** Something that the editor does, with numbers that choose of what. */
type Edit = (content: QuizContent, pick: (length: number) => number, newId: () => string) => QuizContent

const question = (content: QuizContent, pick: (length: number) => number) =>
  content.questions[pick(content.questions.length)]
const answer = (content: QuizContent, pick: (length: number) => number): [string, string] | null => {
  const of = question(content, pick)
  const each = of && answersOf(of)[pick(answersOf(of).length)]
  return of && each ? [of.id, each.id] : null
}
const result = (content: QuizContent, pick: (length: number) => number): string =>
  content.results[pick(content.results.length)]?.id ?? 'none'

const all: Readonly<Record<string, Edit>> = {
  insertQuestion: (content, pick, newId) =>
    edits.insertQuestion(
      content,
      edits.freshQuestion(kinds[pick(kinds.length)] ?? 'one', newId),
      pick(content.questions.length + 1),
    ),
  insertAnswer: (content, pick, newId) =>
    edits.insertAnswer(content, question(content, pick)?.id ?? '', newId()),
  insertResult: (content, _pick, newId) => edits.insertResult(content, edits.freshResult('Another', newId)),
  removeQuestion: (content, pick) => edits.removeQuestion(content, question(content, pick)?.id ?? ''),
  removeAnswer: (content, pick) => {
    const [of, id] = answer(content, pick) ?? ['', '']
    return edits.removeAnswer(content, of, id)
  },
  removeResult: (content, pick) => edits.removeResult(content, result(content, pick)),
  shiftQuestion: (content, pick) =>
    edits.shiftQuestion(content, question(content, pick)?.id ?? '', pick(2) === 0 ? -1 : 1),
  shiftAnswer: (content, pick) => {
    const [of, id] = answer(content, pick) ?? ['', '']
    return edits.shiftAnswer(content, of, id, pick(2) === 0 ? -1 : 1)
  },
  shiftResult: (content, pick) => edits.shiftResult(content, result(content, pick), pick(2) === 0 ? -1 : 1),
  setCount: (content, pick) => {
    const [of, id] = answer(content, pick) ?? ['', '']
    return edits.setCount(content, of, id, result(content, pick), pick(4))
  },
}

describe('edits of a quiz, whichever follow each other', () => {
  it('leave a quiz that can be stored, in which nothing speaks of what is gone (fast-check)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...Object.keys(all)), fc.array(fc.nat(), { maxLength: 4 })), {
          maxLength: 24,
        }),
        (steps) => {
          const newId = numberedIds('made')
          let content = start()
          for (const [name, numbers] of steps) {
            let at = 0
            const pick = (length: number): number => (length === 0 ? 0 : (numbers[at++] ?? 0) % length)
            const edit = all[name]
            if (edit) content = edit(content, pick, newId)
          }
          expect(quizContent.safeParse(content).error).toBeUndefined()
          const answers = content.questions.flatMap((each) => answersOf(each))
          const ids = new Set(answers.map(({ id }) => id))
          const results = new Set(content.results.map(({ id }) => id))
          for (const { skippedBy } of content.questions)
            expect(skippedBy.filter((id) => !ids.has(id))).toEqual([])
          for (const { counts } of answers)
            expect(Object.keys(counts).filter((id) => !results.has(id))).toEqual([])
          expect(ids.size).toBe(answers.length)
        },
      ),
    )
  })

  it('count for nothing that is not a result', () => {
    const content = start()
    expect(edits.setCount(content, content.questions[0]?.id ?? '', answerId(0, 0), 'none', 3)).toBe(content)
  })

  it('change nothing of what somebody holds who saw it before', () => {
    const content = start()
    const before = structuredClone(content)
    for (const edit of Object.values(all)) edit(content, () => 0, numberedIds('made'))
    expect(content).toEqual(before)
  })
})

describe('a question', () => {
  it('of each kind begins so that it can be asked', () => {
    const newId = numberedIds('fresh')
    const answers = kinds.map((asks) => answersOf(edits.freshQuestion(asks, newId)).map(({ words }) => words))
    expect(answers).toEqual([['', ''], ['', ''], ['1', '2', '3', '4', '5'], ['Yes', 'No'], ['', ''], []])
  })

  it('of a number gets answers that each begin where the one before does not reach', () => {
    const newId = numberedIds('fresh')
    const asked = edits.freshQuestion('number', newId)
    let content = edits.insertQuestion(start(), asked, 0)
    content = edits.insertAnswer(edits.insertAnswer(content, asked.id, newId()), asked.id, newId())
    const [first] = content.questions
    expect(first?.asks === 'number' && first.answers.map(({ from }) => from)).toEqual([null, 10, 20, 30])
  })

  it('is moved within its list alone, and back again', () => {
    const content = start()
    const order = (of: QuizContent): string[] => of.questions.map(({ id }) => id)
    const down = edits.shiftQuestion(content, quizId('question', 0), 1)
    expect(order(down)).toEqual([quizId('question', 1), quizId('question', 0)])
    expect(edits.shiftQuestion(down, quizId('question', 0), -1)).toEqual(content)
    expect(edits.shiftQuestion(content, quizId('question', 0), -1)).toEqual(content)
    expect(edits.shiftQuestion(content, quizId('question', 1), 1)).toEqual(content)
    expect(edits.shiftQuestion(content, 'unknown1', 1)).toEqual(content)
  })

  it('takes with it, when it goes, that others were skipped by its answers', () => {
    const left = edits.removeQuestion(start(), quizId('question', 0))
    expect(left.questions.map(({ id, skippedBy }) => [id, skippedBy])).toEqual([[quizId('question', 1), []]])
    const answerGone = edits.removeAnswer(start(), quizId('question', 0), answerId(0, 1))
    expect(answerGone.questions[1]?.skippedBy).toEqual([])
    expect(answersOf(answerGone.questions[0]!)).toHaveLength(1)
  })
})

describe('what an answer counts', () => {
  it('is set by the cell, and taken out by nothing', () => {
    const cell = (content: QuizContent): unknown => answersOf(content.questions[0]!)[0]?.counts
    const set = edits.setCount(start(), quizId('question', 0), answerId(0, 0), quizId('result', 1), 3)
    expect(cell(set)).toEqual({ [quizId('result', 0)]: 2, [quizId('result', 1)]: 3 })
    const out = edits.setCount(set, quizId('question', 0), answerId(0, 0), quizId('result', 0), 0)
    expect(cell(out)).toEqual({ [quizId('result', 1)]: 3 })
    expect(outcomeOf(out, { [quizId('question', 0)]: [answerId(0, 0)] }).result?.id).toBe(quizId('result', 1))
    expect(edits.setCount(out, quizId('question', 0), 'unknown1', quizId('result', 0), 5)).toBe(out)
  })

  it('goes with the result that it counted for', () => {
    const left = edits.removeResult(start(), quizId('result', 0))
    const counted = left.questions.flatMap((each) => answersOf(each).map(({ counts }) => Object.keys(counts)))
    expect(counted.flat()).not.toContain(quizId('result', 0))
    expect(left.results.map(({ id }) => id)).toEqual([quizId('result', 1)])
  })
})
