import { describe, expect, it } from 'vitest'
import type { Condition } from '../audience/segments/condition.ts'
import { noNames } from '../audience/segments/names.ts'
import { describeChanges } from './describeChanges.ts'
import type { CheckContext, CheckedEmail } from './finding.ts'
import { findingsOf } from './findings.ts'
import type { Program } from './program.ts'
import type { Step } from './step.ts'

const now = Date.parse('2026-11-24T10:00:00Z')
const programOf = (steps: Step[], rest: Partial<Program> = {}): Program => ({
  startsWhen: [{ kind: 'formSent' }],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  ...rest,
  steps,
})
const email = (given: Partial<CheckedEmail> = {}): CheckedEmail => ({
  state: 'live',
  isEmpty: false,
  purpose: 'marketing',
  sells: false,
  faults: [],
  deadLinks: [],
  ...given,
})
const context = (given: Partial<CheckContext> = {}): CheckContext => ({
  id: 1,
  names: {
    ...noNames(),
    emails: { 1: 'First', 2: 'Second' },
    tags: { 1: 'Ready', 2: 'Guest' },
    followups: { 2: 'The other' },
  },
  segments: {},
  emails: { 1: email(), 2: email() },
  startedElsewhere: false,
  deadlines: new Set(['Workshop']),
  coupons: new Set(['COME-BACK']),
  others: [],
  aWeek: 5,
  now,
  ...given,
})
const send = (id: string, of = 1): Step => ({ kind: 'send', id, email: of })
const wait = (id: string, amount = 2): Step => ({ kind: 'waitFor', id, amount, unit: 'days' })
const tag = (of: number): Condition => ({ kind: 'hasTag', tag: of })
const opened = (of: number): Condition => ({
  kind: 'did',
  activity: 'emailOpened',
  details: { email: of },
  atLeast: 1,
})
const found = (program: Program, given: Partial<CheckContext> = {}) =>
  findingsOf(program, context(given)).map(({ level, words, part }) => `${level} ${part ?? '-'}: ${words}`)

describe('the departure check', () => {
  it('has nothing to say of a follow-up that is right', () => {
    expect(found(programOf([send('a'), wait('b'), send('c', 2)]))).toEqual([])
    const offers: Step[] = [
      { kind: 'makeCoupon', id: 'a', coupon: 'come-back' },
      { kind: 'startDeadline', id: 'b', offer: 'Workshop', lasts: { amount: 14, unit: 'minutes' } },
    ]
    expect(found(programOf(offers))).toEqual([])
  })

  it.each<[string, Program, Partial<CheckContext>, RegExp]>([
    ['that nothing starts', programOf([send('a')], { startsWhen: [] }), {}, /^advice -: Nothing starts it/],
    [
      'a start that is gone',
      programOf([send('a')], { startsWhen: [{ kind: 'tagAdded', tag: 9 }] }),
      {},
      /^error -: It starts from something that was deleted: the tag/,
    ],
    ['no steps', programOf([]), {}, /^error -: It has no steps/],
    [
      'an email that is gone',
      programOf([send('a', 9)]),
      {},
      /^error a: something deleted \(9\) cannot be sent/,
    ],
    [
      'a draft',
      programOf([send('a')]),
      { emails: { 1: email({ state: 'draft' }) } },
      /^error a: The email “First” is a draft/,
    ],
    [
      'an empty email',
      programOf([send('a')]),
      { emails: { 1: email({ state: 'draft', isEmpty: true }) } },
      /^error a: The email “First” is empty/,
    ],
    [
      'an archived email',
      programOf([send('a')]),
      { emails: { 1: email({ state: 'archived' }) } },
      /is archived/,
    ],
    [
      'a link to what is not live',
      programOf([send('a')]),
      { emails: { 1: email({ deadLinks: ['the page is not live'] }) } },
      /^advice a: In “First”, the page is not live/,
    ],
    [
      'a tag that is gone',
      programOf([{ kind: 'addTag', id: 'a', tag: 9 }]),
      {},
      /^error a: It speaks of the tag/,
    ],
    [
      'a coupon that makes no codes',
      programOf([{ kind: 'makeCoupon', id: 'a', coupon: 'SPRING' }]),
      {},
      /^error a: No coupon “SPRING” makes a code for each person/,
    ],
    [
      'a deadline that the Library does not have',
      programOf([{ kind: 'startDeadline', id: 'a', offer: 'Journal', lasts: { amount: 3, unit: 'days' } }]),
      {},
      /^advice a: The Library has no deadline “Journal”/,
    ],
    [
      'a question about what is gone',
      programOf([{ kind: 'send', id: 'a', email: 1, onlyIf: tag(9) }]),
      {},
      /^error a: It asks about something that was deleted/,
    ],
    [
      'a condition that can never hold',
      programOf([
        {
          kind: 'send',
          id: 'a',
          email: 1,
          onlyIf: { kind: 'all', of: [tag(1), { kind: 'not', of: tag(1) }] },
        },
      ]),
      {},
      /^advice a: Its condition can never be true/,
    ],
    [
      'a condition that always holds',
      programOf([
        {
          kind: 'send',
          id: 'a',
          email: 1,
          onlyIf: { kind: 'any', of: [tag(1), { kind: 'not', of: tag(1) }] },
        },
      ]),
      {},
      /^advice a: Its condition is always true/,
    ],
    [
      'a lane that nobody takes',
      programOf([
        {
          kind: 'branch',
          id: 'a',
          arms: [
            { label: 'Ready', when: tag(1), steps: [] },
            { label: 'Both', when: { kind: 'all', of: [tag(1), tag(2)] }, steps: [] },
          ],
          otherwise: { label: 'Rest', steps: [] },
        },
      ]),
      {},
      /^advice a: Nobody takes the lane “Both”/,
    ],
    [
      'steps behind an end',
      programOf([{ kind: 'end', id: 'a' }, send('b')]),
      {},
      /^advice b: Nobody reaches this step/,
    ],
    [
      'a reminder before what it reminds of',
      programOf([{ kind: 'send', id: 'a', email: 2, onlyIf: opened(1) }, send('b', 1)]),
      {},
      /^advice a: It asks about “First”, which is sent only later/,
    ],
    [
      'a date that has passed',
      programOf([{ kind: 'waitDate', id: 'a', date: '2026-09-14', time: '09:00', past: 'leave' }, send('b')]),
      {},
      /^advice a: 2026-09-14, 09:00 has passed: everybody leaves here/,
    ],
    [
      'selling without leaving at purchase',
      programOf([send('a')]),
      { emails: { 1: email({ sells: true }) } },
      /^advice a: It sells, but whoever has bought/,
    ],
    [
      'too many emails a week',
      programOf(['a', 'b', 'c', 'd', 'e', 'f'].flatMap((id) => [send(id), wait(`w${id}`, 1)])),
      {},
      /^advice f: Somebody may get 6 emails of it within a week/,
    ],
    [
      'another that writes within the hour',
      programOf([send('a')]),
      { others: [{ id: 2, name: 'The other', program: programOf([send('x', 2)]) }] },
      /^advice a: “The other” starts from the same thing/,
    ],
    [
      'a circle through another',
      programOf([{ kind: 'startFollowup', id: 'a', followup: 2 }], { reentry: 'always' }),
      {
        others: [
          { id: 2, name: 'The other', program: programOf([{ kind: 'startFollowup', id: 'x', followup: 1 }]) },
        ],
      },
      /^error a: It starts itself again through “The other”/,
    ],
  ])('finds %s', (_what, program, given, wanted) => {
    expect(found(program, given)).toContainEqual(expect.stringMatching(wanted))
  })

  it('leaves alone what only looks alike: leaving at purchase, an email a week, another start', () => {
    const selling = programOf([send('a')], { leavesWhen: [{ when: { kind: 'productBought' } }] })
    expect(found(selling, { emails: { 1: email({ sells: true }) } })).toEqual([])
    const other = programOf([send('x', 2)], { startsWhen: [{ kind: 'tagAdded', tag: 1 }] })
    expect(found(programOf([send('a')]), { others: [{ id: 2, name: 'The other', program: other }] })).toEqual(
      [],
    )
    // A circle in which people come in once ends by itself.
    const back = programOf([{ kind: 'startFollowup', id: 'x', followup: 1 }])
    expect(
      found(programOf([{ kind: 'startFollowup', id: 'a', followup: 2 }]), {
        others: [{ id: 2, name: 'The other', program: back }],
      }),
    ).toEqual([])
  })
})

describe('what changed', () => {
  const { names } = context()
  it('is said step by step, and nothing moves by what is new or gone beside it', () => {
    const before = programOf([send('a'), wait('b'), send('c', 2)])
    const after = programOf([send('a'), { kind: 'addTag', id: 'd', tag: 1 }, wait('b', 3), send('c', 2)], {
      leavesWhen: [{ when: { kind: 'productBought' } }],
    })
    expect(describeChanges(before, after, names)).toEqual([
      'added: tag “Ready”',
      'changed: 2 days → Wait 3 days from the step before.',
      'people leave when they: bought anything',
    ])
    expect(describeChanges(before, programOf([wait('b'), send('a'), send('c', 2)]), names).join()).toContain(
      'moved: ',
    )
    // The database gives keys back in an order of its own.
    const backwards = before.steps.map(
      (step) => Object.fromEntries(Object.entries(step).reverse()) as typeof step,
    )
    expect(describeChanges(before, programOf(backwards), names)).toEqual([])
    expect(describeChanges(before, programOf([send('a'), wait('b')]), names)).toEqual(['taken out: “Second”'])
    expect(describeChanges(before, before, names)).toEqual([])
  })
})
