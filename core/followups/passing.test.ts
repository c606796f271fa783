import { describe, expect, it } from 'vitest'
import { stranger } from '../audience/people/person.ts'
import { noNames } from '../audience/segments/names.ts'
import { advance, enrol } from './advance.ts'
import type { Enrolment, Facts, Outcome } from './enrolment.ts'
import type { Program } from './program.ts'
import type { Step, StepKind } from './step.ts'
import { indexSteps } from './track.ts'

const hour = 3_600_000
const day = 24 * hour
const start = Date.parse('2026-06-01T09:00:00Z')
const span = { amount: 2, unit: 'days' } as const
const asks = { kind: 'hasTag', tag: 1 } as const
const lane = (label: string, steps: Step[] = []) => ({ label, steps })

const facts: Facts = {
  person: { ...stranger, marketing: 'subscribed' },
  emails: { 1: { purpose: 'marketing' }, 2: { purpose: 'marketing' } },
  fields: [{ id: 3, name: 'Next fair', kind: 'date', options: [] }],
  sessions: { 9: start + 3 * day },
  seed: '1 1',
  context: {
    names: {
      ...noNames(),
      emails: { 1: 'Welcome', 2: 'Last call' },
      tags: { 1: 'Bookbinder' },
      fields: { 3: 'Next fair' },
      topics: { 4: 'Letter' },
      scorecards: { 5: 'Interest' },
      followups: { 6: 'Welcome' },
    },
    segments: {},
    scorecards: {},
  },
}
const of = (steps: Step[]): Program => ({
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps,
})
function go(steps: Step[], about: Facts = facts, from: Partial<Enrolment> = {}, now = start) {
  const program = of(steps)
  const { enrolment, effects, decisions } = advance(
    program,
    indexSteps(program),
    { ...enrol(program, start), ...from },
    about,
    now,
  )
  return {
    enrolment,
    effects,
    journal: decisions.map(({ step, outcome, reason }) => `${step ?? ''} ${outcome}: ${reason}`),
    decisions,
  }
}

/** Of each kind: a step, what is decided on passing it, and what the server is told to do. */
const kinds: { readonly [K in StepKind]: [step: Step, Outcome, effect?: string] } = {
  send: [{ kind: 'send', id: 'a', email: 1 }, 'sent', 'sendEmail'],
  sendText: [{ kind: 'sendText', id: 'a', text: 'Soon' }, 'skipped'],
  notifyTeam: [{ kind: 'notifyTeam', id: 'a', words: 'Call them' }, 'did', 'notifyTeam'],
  waitFor: [{ kind: 'waitFor', id: 'a', ...span }, 'waits'],
  waitDay: [{ kind: 'waitDay', id: 'a', day: 2 }, 'waits'],
  waitTime: [{ kind: 'waitTime', id: 'a', weekdays: [3], from: '09:00', to: '11:00' }, 'waits'],
  waitDate: [{ kind: 'waitDate', id: 'a', date: '2026-06-09', time: '09:00', past: 'goOn' }, 'waits'],
  waitRelative: [
    { kind: 'waitRelative', id: 'a', to: { what: 'session' }, ...span, side: 'before', past: 'skip' },
    'waits',
  ],
  waitUntil: [
    { kind: 'waitUntil', id: 'a', when: asks, atMost: span, happened: lane('Yes'), otherwise: lane('No') },
    'waits',
  ],
  branch: [
    { kind: 'branch', id: 'a', arms: [{ ...lane('Yes'), when: asks }], otherwise: lane('No') },
    'took',
  ],
  split: [
    { kind: 'split', id: 'a', shares: [{ ...lane('A'), share: 50 }, { ...lane('B'), share: 50 }] },
    'took',
  ], // prettier-ignore
  addTag: [{ kind: 'addTag', id: 'a', tag: 1 }, 'tagged', 'addTag'],
  removeTag: [{ kind: 'removeTag', id: 'a', tag: 1 }, 'did'],
  setField: [{ kind: 'setField', id: 'a', field: 3, value: '2026-09-01' }, 'did', 'setField'],
  givePoints: [{ kind: 'givePoints', id: 'a', scorecard: 5, points: 4 }, 'did', 'givePoints'],
  joinTopic: [{ kind: 'joinTopic', id: 'a', topic: 4 }, 'did', 'joinTopic'],
  leaveTopic: [{ kind: 'leaveTopic', id: 'a', topic: 4 }, 'did'],
  startFollowup: [{ kind: 'startFollowup', id: 'a', followup: 6 }, 'did', 'startFollowup'],
  leaveFollowup: [{ kind: 'leaveFollowup', id: 'a', followup: 6 }, 'did', 'leaveFollowup'],
  startDeadline: [{ kind: 'startDeadline', id: 'a', offer: 'early', lasts: span }, 'did', 'startDeadline'],
  makeCoupon: [{ kind: 'makeCoupon', id: 'a', coupon: 'TEN' }, 'did', 'makeCoupon'],
  webhook: [{ kind: 'webhook', id: 'a', url: 'https://hook.test/in' }, 'did', 'webhook'],
  milestone: [{ kind: 'milestone', id: 'a', name: 'Offer' }, 'left'],
  end: [{ kind: 'end', id: 'a' }, 'left'],
}
const session: Partial<Enrolment> = { session: 9 }

describe('a step', () => {
  it.each(Object.values(kinds))('$kind is passed and said', (step, outcome, effect) => {
    const { decisions, effects } = go([step], facts, session)
    expect(decisions[0]?.outcome).toBe(outcome)
    expect(decisions[0]?.reason).not.toBe('')
    expect(effects.map(({ kind }) => kind)).toEqual(effect === undefined ? [] : [effect])
  })

  it('that names what was deleted is passed over, says so, and holds nobody up', () => {
    const gone: Step[] = [
      { kind: 'send', id: 'mail', email: 99 },
      { kind: 'addTag', id: 'tag', tag: 99 },
      { kind: 'setField', id: 'field', field: 99, value: 'x' },
      { kind: 'joinTopic', id: 'topic', topic: 99 },
      { kind: 'givePoints', id: 'points', scorecard: 99, points: 1 },
      { kind: 'startFollowup', id: 'other', followup: 99 },
    ]
    const { decisions, effects, enrolment } = go(gone)
    expect(effects).toEqual([])
    expect(decisions.slice(0, -1).map(({ outcome }) => outcome)).toEqual(gone.map(() => 'skipped'))
    expect(enrolment.step).toBeNull()
  })

  it('sees what the step before it did', () => {
    const { journal } = go([
      { kind: 'addTag', id: 'tag', tag: 1 },
      { kind: 'send', id: 'mail', email: 1, onlyIf: asks },
      { kind: 'removeTag', id: 'off', tag: 1 },
      { kind: 'send', id: 'again', email: 2, onlyIf: asks },
    ])
    expect(journal).toEqual([
      'tag tagged: “Bookbinder”',
      'mail sent: “Welcome”: has the tag “Bookbinder”: yes',
      'off did: took off “Bookbinder”',
      'again skipped: “Last call”: has the tag “Bookbinder”: no',
      'again left: all steps are done',
    ])
  })
})

/** Two hours before the session there is a reminder, and its own tag; then, a day after it, a letter. */
const reminding = (past: 'skip' | 'goOn'): Step[] => [
  {
    kind: 'waitRelative',
    id: 'before',
    to: { what: 'session' },
    amount: 2,
    unit: 'hours',
    side: 'before',
    past,
  },
  { kind: 'send', id: 'remind', email: 1 },
  { kind: 'addTag', id: 'reminded', tag: 1 },
  {
    kind: 'waitRelative',
    id: 'after',
    to: { what: 'session' },
    amount: 1,
    unit: 'days',
    side: 'after',
    past: 'goOn',
  },
  { kind: 'send', id: 'thanks', email: 2 },
]
const begins = (at: number): Facts => ({ ...facts, sessions: { 9: at } })

describe('a reminder', () => {
  it('waits for its moment when there is time', () => {
    const { enrolment } = go(reminding('skip'), begins(start + 5 * hour), session)
    expect(enrolment).toMatchObject({ step: 'before', dueAt: start + 3 * hour })
  })

  it('comes at once to who comes in at its very moment', () => {
    const { effects } = go(reminding('skip'), begins(start + 2 * hour), session)
    expect(effects.map(({ step }) => step)).toEqual(['remind', 'reminded'])
  })

  it('that is too late is skipped with all up to the next wait, which is kept', () => {
    const { effects, enrolment, journal } = go(reminding('skip'), begins(start + hour), session)
    expect(effects).toEqual([])
    expect(journal).toContain('remind skipped: too late for this reminder')
    expect(journal).toContain('reminded skipped: too late for this reminder')
    expect(enrolment).toMatchObject({ step: 'after', dueAt: start + hour + day })
  })

  it('that is too late is sent all the same where that is chosen', () => {
    const { effects } = go(reminding('goOn'), begins(start + hour), session)
    expect(effects.map(({ step }) => step)).toEqual(['remind', 'reminded'])
  })

  it('is skipped too when nobody came to send it until what it reminds of had begun', () => {
    const at = start + 5 * hour
    const waiting: Partial<Enrolment> = { ...session, step: 'before', dueAt: at - 2 * hour }
    expect(go(reminding('skip'), begins(at), waiting, at - hour).effects[0]?.step).toBe('remind')
    expect(go(reminding('skip'), begins(at), waiting, at + 60_000).effects).toEqual([])
  })

  it('moves with the date that it goes by, and says so', () => {
    const waiting: Partial<Enrolment> = { ...session, step: 'before', dueAt: start + 3 * hour }
    const { enrolment, journal } = go(reminding('skip'), begins(start + 9 * hour), waiting, start + hour)
    expect(enrolment.dueAt).toBe(start + 7 * hour)
    expect(journal[0]).toMatch(/moved to 1 Jun 17:00/)
  })

  it('of somebody without such a date is skipped, with the reason', () => {
    const { effects, journal } = go(reminding('skip'))
    expect(effects.map(({ step }) => step)).toEqual(['thanks'])
    expect(journal[0]).toMatch(/they have no such date/)
  })
})

describe('a wait for a date that has passed', () => {
  const dated = (past: 'goOn' | 'leave'): Step[] => [
    { kind: 'waitDate', id: 'date', date: '2026-05-01', time: '09:00', past },
    { kind: 'send', id: 'mail', email: 1 },
  ]
  it('goes on, or leaves, as was chosen', () => {
    expect(go(dated('goOn')).effects).toHaveLength(1)
    const left = go(dated('leave'))
    expect(left.effects).toEqual([])
    expect(left.journal).toEqual(['date left: 1 May 09:00 has passed'])
  })
})
