import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProgram } from '../../testing/programs.ts'
import {
  changeLane,
  copySteps,
  findStep,
  insertSteps,
  mainLane,
  moveStep,
  removeStep,
  shiftStep,
  stepsIn,
} from './editing.ts'
import { program, type Program } from './program.ts'
import { allSteps, lanesOf, type Step } from './step.ts'

const frame: Omit<Program, 'steps'> = {
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
}
const when = { kind: 'hasTag', tag: 1 } as const
const idsOf = (steps: readonly Step[]): string[] => allSteps(steps).map(({ id }) => id)

const steps: Step[] = [
  { kind: 'send', id: 'a', email: 1 },
  {
    kind: 'branch',
    id: 'b',
    arms: [{ label: 'yes', when, steps: [{ kind: 'send', id: 'c', email: 2 }] }],
    otherwise: {
      label: 'no',
      steps: [
        { kind: 'waitFor', id: 'd', amount: 1, unit: 'days' },
        { kind: 'send', id: 'e', email: 3 },
      ],
    },
  },
  { kind: 'end', id: 'f' },
]

describe('edits of a timetable', () => {
  it('add, take out and move steps, in and out of lanes', () => {
    const added = insertSteps(steps, [{ kind: 'addTag', id: 'g', tag: 1 }], { lane: 'b/0', index: 1 })
    expect(stepsIn(added, 'b/0').map(({ id }) => id)).toEqual(['c', 'g'])
    expect(idsOf(removeStep(steps, 'b'))).toEqual(['a', 'f'])
    expect(idsOf(moveStep(steps, 'a', { lane: 'b/1', index: 2 }))).toEqual(['b', 'c', 'd', 'e', 'a', 'f'])
    expect(moveStep(steps, 'b', { lane: 'b/1', index: 0 })).toEqual(steps)
  })

  it('shift along a lane and out of it, and to the lane beside', () => {
    expect(idsOf(shiftStep(steps, 'e', -1))).toEqual(['a', 'b', 'c', 'e', 'd', 'f'])
    expect(idsOf(shiftStep(steps, 'e', 1))).toEqual(['a', 'b', 'c', 'd', 'e', 'f'])
    expect(findStep(shiftStep(steps, 'e', 1), 'e')).toMatchObject({ lane: mainLane, index: 2 })
    expect(findStep(changeLane(steps, 'e', -1), 'e')).toMatchObject({ lane: 'b/0', index: 1 })
    expect(changeLane(steps, 'e', 1)).toEqual(steps)
    expect(shiftStep(steps, 'a', -1)).toEqual(steps)
  })

  it('leave the ids as many and as different, and a program that is taken', () => {
    fc.assert(
      fc.property(
        anyProgram(frame, when),
        fc.nat(),
        fc.nat(),
        fc.constantFrom('move', 'back', 'on', 'up', 'down'),
        (of, which, where, how) => {
          const ids = idsOf(of.steps)
          const id = ids[which % ids.length] ?? ''
          const lanes = [
            mainLane,
            ...allSteps(of.steps).flatMap((step) => lanesOf(step).map((_, i) => `${step.id}/${i}`)),
          ]
          const lane = lanes[where % lanes.length] ?? mainLane
          const edits = {
            move: () => moveStep(of.steps, id, { lane, index: where % (stepsIn(of.steps, lane).length + 1) }),
            back: () => shiftStep(of.steps, id, -1),
            on: () => shiftStep(of.steps, id, 1),
            up: () => changeLane(of.steps, id, -1),
            down: () => changeLane(of.steps, id, 1),
          }
          const edited = edits[how]()
          expect([...idsOf(edited)].sort()).toEqual([...ids].sort())
          expect(program.safeParse({ ...of, steps: edited }).error).toBeUndefined()
          let next = 0
          const copied = idsOf(copySteps(of.steps, () => `n${next++}`))
          expect(new Set([...copied, ...ids]).size).toBe(2 * ids.length)
        },
      ),
      { numRuns: 300 },
    )
  })
})

describe('a program that somebody wrote by hand', () => {
  const faultOf = (of: unknown): string | undefined => {
    const issue = program.safeParse(of).error?.issues[0]
    return issue && `${issue.path.join('.')}: ${issue.message}`
  }
  const of = (given: readonly unknown[], rest: object = {}) => ({ ...frame, ...rest, steps: given })

  it.each<[string, unknown, RegExp]>([
    [
      '10,000 steps',
      of(Array.from({ length: 10_000 }, (_, i) => ({ kind: 'end', id: `s${i}` }))),
      /^steps: A follow-up can have 300 steps/,
    ],
    [
      'a wait of nothing',
      of([{ kind: 'waitFor', id: 'a', amount: 0, unit: 'days' }]),
      /^steps\.0\.amount: A wait is at least 1/,
    ],
    [
      'a wait of a hundred years',
      of([{ kind: 'waitFor', id: 'a', amount: 5_218, unit: 'weeks' }]),
      /^steps\.0: A wait can last two years/,
    ],
    ['a zone that is none', of([], { zone: 'Mars/Olympus' }), /^zone: This is no time zone/],
    ['two steps of one id', of([steps[0], steps[0]]), /^steps: Two steps have the id a/],
    [
      'a jump to nowhere',
      of([], { leavesWhen: [{ when: { kind: 'productBought' }, milestone: 'x' }] }),
      /^leavesWhen\.0\.milestone: This milestone/,
    ],
    [
      'a share of 110',
      of([
        {
          kind: 'split',
          id: 'a',
          shares: [
            { label: 'a', share: 60, steps: [] },
            { label: 'b', share: 50, steps: [] },
          ],
        },
      ]),
      /^steps\.0\.shares: The shares/,
    ],
    ['a kind that is none', of([{ kind: 'explode', id: 'a' }]), /^steps\.0\.kind/],
    ['a step that is a number', of([7]), /^steps\.0/],
    ['nothing', null, /./],
  ])('%s is refused, with its place', (_what, given, fault) => expect(faultOf(given)).toMatch(fault))

  it('nested beyond all sense is refused before anything walks it', () => {
    let deep: unknown = []
    for (let i = 0; i < 5_000; i += 1)
      deep = [{ kind: 'branch', id: `s${i}`, arms: [], otherwise: { label: 'x', steps: deep } }]
    expect(faultOf(of(deep as unknown[]))).toMatch(/Lanes can stand in each other 8 deep/)
  })
})
