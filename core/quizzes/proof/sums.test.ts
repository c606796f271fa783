import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { countingQuestion, plainResult, quizId, quizOf } from '../../../testing/quizzes.ts'
import { askedQuestions, inBestOrder } from './questionOrder.ts'
import { Packing } from './packing.ts'
import { Sums } from './sums.ts'

const key = fc.oneof(
  fc.integer({ min: -40, max: 40 }),
  fc.integer({ min: -(2 ** 51), max: 2 ** 51 }),
  // Neighbours in a place far to the left.
  fc.integer({ min: -9, max: 9 }).map((n) => n * 42 ** 6),
)

describe('sums', () => {
  it('are those of a map, whatever is added (fast-check)', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(key, fc.integer({ min: 1, max: 9 })), { maxLength: 400 }), (added) => {
        const sums = new Sums()
        const map = new Map<number, number>()
        for (const [each, chance] of added) {
          sums.add(each, chance)
          map.set(each, (map.get(each) ?? 0) + chance)
        }
        const found = Array.from({ length: sums.size }, (_, i) => [sums.keys[i], sums.chances[i]])
        expect(found).toEqual([...map])
      }),
    )
  })

  it('keep their room when they are emptied, and nothing else', () => {
    const sums = new Sums()
    for (let n = 0; n < 1_000; n += 1) sums.add(n, 1)
    const room = sums.keys.length
    sums.clear()
    expect([sums.size, sums.keys.length]).toEqual([0, room])
    sums.add(7, 0.5)
    expect([sums.size, sums.keys[0], sums.chances[0]]).toEqual([1, 7, 0.5])
  })

  it('are handed on from a likelihood on; the rest is told together', () => {
    const sums = new Sums()
    for (const [each, chance] of [
      [1, 0.5],
      [2, 0.25],
      [3, 0.125],
      [4, 0.125],
    ] as const)
      sums.add(each, chance)
    const kept = new Sums()
    expect(sums.likelier(0.2, () => kept)).toBe(0.25)
    expect([...kept.keys.subarray(0, kept.size)]).toEqual([1, 2])
  })
})

describe('packed sums', () => {
  const results = Array.from({ length: 8 }, (_, n) => plainResult(n))

  it('are unpacked as they were, apart from what all have in common (fast-check)', () => {
    const counted = fc.constantFrom('type' as const, 'points' as const, 'both' as const)
    fc.assert(
      fc.property(
        counted,
        fc.array(fc.integer({ min: 0, max: 20 }), { minLength: 9, maxLength: 9 }),
        fc.subarray([0, 1, 2, 3, 4, 5, 6, 7], { minLength: 1 }),
        (by, of, alive) => {
          const packing = new Packing(quizOf({ by, results }), 21)
          expect(packing.holds(8)).toBe(true)
          const found = new Float64Array(9)
          packing.unpack(alive, packing.pack(alive, of), found)
          const first = of[alive[0] ?? 0] ?? 0
          if (by !== 'points')
            expect(alive.map((place) => found[place])).toEqual(alive.map((place) => (of[place] ?? 0) - first))
          if (by !== 'type') expect(found[8]).toBe(of[8])
        },
      ),
    )
  })

  it('move by an answer as the sums themselves do (fast-check)', () => {
    const counts = fc.array(fc.integer({ min: 0, max: 10 }), { minLength: 9, maxLength: 9 })
    const packing = new Packing(quizOf({ by: 'both', results }), 21)
    const alive = [0, 2, 3, 7]
    fc.assert(
      fc.property(counts, counts, (before, by) => {
        const after = before.map((each, i) => each + (by[i] ?? 0))
        expect(packing.pack(alive, before) + packing.pack(alive, by)).toBe(packing.pack(alive, after))
      }),
    )
  })

  it('are refused where they do not fit into a number exactly', () => {
    const far = new Packing(quizOf({ results }), 1e9)
    expect([far.holds(2), far.holds(8)]).toEqual([true, false])
  })
})

describe('the order of questions', () => {
  it('has each once, and the last one last (fast-check)', () => {
    const row = fc.array(fc.nat(3), { minLength: 4, maxLength: 4 })
    const asked = fc.array(fc.array(row, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 9 })
    fc.assert(
      fc.property(asked, fc.nat(), (rows, n) => {
        const content = quizOf({
          questions: rows.map((each, at) => countingQuestion(at, each)),
          results: Array.from({ length: 4 }, (_, at) => plainResult(at)),
        })
        const given = askedQuestions(content, null)
        const last = quizId('question', n % rows.length)
        const order = inBestOrder(given, 1, last)
        expect(new Set(order)).toEqual(new Set(given))
        expect(order).toHaveLength(given.length)
        expect(order.at(-1)?.question.id).toBe(last)
      }),
    )
  })

  it('puts together what concerns the same results: fewer are in play at once', () => {
    const one = (place: number) => Array.from({ length: 4 }, (_, r) => (r === place ? 1 : 0))
    const mixed = [0, 2, 0, 2, 0, 2].map((first, n) => countingQuestion(n, [one(first), one(first + 1)]))
    const content = quizOf({ questions: mixed, results: Array.from({ length: 4 }, (_, n) => plainResult(n)) })
    const order = inBestOrder(askedQuestions(content, null), 1, null).map(
      ({ options }) => options[0]?.effect.findIndex((each) => each > 0) ?? -1,
    )
    const changes = order.filter((place, i) => i > 0 && place !== order[i - 1]).length
    expect(changes).toBe(1)
  })
})
