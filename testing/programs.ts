import fc from 'fast-check'
import type { Condition } from '../core/audience/segments/condition.ts'
import type { Program } from '../core/followups/program.ts'
import { lanesOf, withLane, type Step } from '../core/followups/step.ts'
import type { Trigger } from '../core/followups/trigger.ts'

/** Things that the programs of these tests speak of, and what people of them do. */
export const anyTrigger: fc.Arbitrary<Trigger> = fc.constantFrom<Trigger>(
  { kind: 'tagAdded', tag: 1 },
  { kind: 'tagAdded', tag: 2 },
  { kind: 'tagRemoved', tag: 1 },
  { kind: 'productBought', product: 1 },
  { kind: 'emailClicked', email: 2 },
  { kind: 'pageVisited', page: 1 },
)

const span = fc.record({
  amount: fc.integer({ min: 1, max: 5 }),
  unit: fc.constantFrom('minutes', 'hours', 'days', 'weeks'),
})
const time = fc.constantFrom('00:30', '02:30', '09:00', '23:15')
const clocks = fc.constantFrom('followup', 'person')

/** Steps without lanes, of every kind that does something today. */
const plainStep: fc.Arbitrary<Step> = fc.oneof(
  fc.constantFrom<Step>(
    { kind: 'send', id: 'x', email: 2 },
    { kind: 'send', id: 'x', email: 1 },
    { kind: 'sendText', id: 'x', text: 'Soon' },
    { kind: 'notifyTeam', id: 'x', words: 'Look' },
    { kind: 'addTag', id: 'x', tag: 1 },
    { kind: 'addTag', id: 'x', tag: 7 },
    { kind: 'removeTag', id: 'x', tag: 1 },
    { kind: 'setField', id: 'x', field: 1, value: 'thread' },
    { kind: 'givePoints', id: 'x', scorecard: 1, points: 5 },
    { kind: 'joinTopic', id: 'x', topic: 1 },
    { kind: 'leaveTopic', id: 'x', topic: 1 },
    { kind: 'startDeadline', id: 'x', offer: 'early', lasts: { amount: 3, unit: 'days' } },
    { kind: 'webhook', id: 'x', url: 'https://hooks.quillfeather.example/' },
    { kind: 'milestone', id: 'x', name: 'Here' },
    { kind: 'end', id: 'x' },
  ),
  span.map((of): Step => ({ kind: 'waitFor', id: 'x', ...of })),
  fc
    .record({ day: fc.integer({ min: 0, max: 9 }), time, clocks })
    .map((of): Step => ({ kind: 'waitDay', id: 'x', ...of })),
  fc
    .record({
      weekdays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
      from: time,
      to: time,
      clocks,
    })
    .map((of): Step => ({ kind: 'waitTime', id: 'x', ...of })),
  fc
    .record({
      date: fc.constantFrom('2026-03-05', '2026-03-29'),
      time,
      past: fc.constantFrom('goOn', 'leave'),
    })
    .map((of): Step => ({ kind: 'waitDate', id: 'x', ...of })),
  fc
    .record({
      amount: fc.integer({ min: 0, max: 4 }),
      unit: fc.constantFrom('hours', 'days'),
      side: fc.constantFrom('before', 'after'),
      past: fc.constantFrom('skip', 'goOn'),
    })
    .map((of): Step => ({ kind: 'waitRelative', id: 'x', to: { what: 'deadline', offer: 'early' }, ...of })),
)

/** Programs of any shape, with ids by their place. */
export const anyProgram = (frame: Omit<Program, 'steps'>, when: Condition): fc.Arbitrary<Program> =>
  fc
    .letrec<{ steps: Step[]; step: Step }>((tie) => {
      const lane = (label: string) => fc.record({ label: fc.constant(label), steps: tie('steps') })
      return {
        steps: fc.array(tie('step'), { minLength: 1, maxLength: 3 }),
        step: fc.oneof(
          { maxDepth: 2 },
          plainStep,
          fc.tuple(lane('a'), lane('b')).map(([arm, otherwise]): Step => ({
            kind: 'branch',
            id: 'x',
            arms: [{ ...arm, when }],
            otherwise,
          })),
          fc.tuple(lane('a'), lane('b')).map(([one, two]): Step => ({
            kind: 'split',
            id: 'x',
            shares: [
              { ...one, share: 30 },
              { ...two, share: 70 },
            ],
          })),
          fc.tuple(span, lane('a'), lane('b')).map(([atMost, happened, otherwise]): Step => ({
            kind: 'waitUntil',
            id: 'x',
            when,
            atMost,
            happened,
            otherwise,
          })),
        ),
      }
    })
    .steps.map((steps) => {
      let next = 0
      const number = (list: readonly Step[]): Step[] =>
        list.map((each) => {
          const id = `s${next++}`
          return lanesOf(each).reduce<Step>((step, lane, i) => withLane(step, i, number(lane.steps)), {
            ...each,
            id,
          })
        })
      return { ...frame, steps: number(steps) }
    })
