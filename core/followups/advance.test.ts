import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Activity } from '../audience/people/activity.ts'
import type { MarketingState } from '../audience/people/permission.ts'
import { noNames } from '../audience/segments/names.ts'
import { stranger } from '../audience/people/person.ts'
import { advance, enrol } from './advance.ts'
import { type Enrolment, type Facts } from './enrolment.ts'
import { anyProgram } from '../../testing/programs.ts'
import { program, type Program } from './program.ts'
import { mayEnter, starts } from './starting.ts'
import { indexSteps } from './track.ts'

const start = Date.parse('2026-03-03T09:00:00Z')
const hour = 3_600_000
const day = 24 * hour

const clickedDelivery = { kind: 'did', activity: 'emailClicked', details: { email: 1 }, atLeast: 1 } as const
const templatePack: Program = program.parse({
  startsWhen: [{ kind: 'formSent', page: 1 }],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps: [
    { kind: 'send', id: 'deliver', email: 1 },
    { kind: 'waitFor', id: 'two-days', amount: 2, unit: 'days' },
    {
      kind: 'branch',
      id: 'clicked',
      arms: [
        { label: 'Has the file', when: clickedDelivery, steps: [{ kind: 'send', id: 'invite', email: 3 }] },
      ],
      otherwise: { label: 'Not yet', steps: [{ kind: 'send', id: 'remind', email: 2 }] },
    },
    { kind: 'addTag', id: 'tag', tag: 7 },
  ],
})

const factsOf = (
  activities: Activity[] = [],
  marketing: MarketingState = 'subscribed',
  tags: number[] = [],
): Facts => ({
  person: { ...stranger, marketing, tags: new Set(tags), activities },
  fields: [],
  sessions: {},
  seed: '1 1',
  emails: { 1: { purpose: 'transactional' }, 2: { purpose: 'marketing' }, 3: { purpose: 'marketing' } },
  context: {
    names: {
      ...noNames(),
      emails: { 1: 'Your template pack', 2: 'Did you find it?', 3: 'Stitch along' },
      tags: { 7: 'Invited' },
    },
    segments: {},
    scorecards: {},
  },
})

const run = (of: Program, enrolment: Enrolment, facts: Facts, now: number) =>
  advance(of, indexSteps(of), enrolment, facts, now)

describe('coming in', () => {
  it('sends at once and waits two days', () => {
    const { enrolment, effects, decisions } = run(templatePack, enrol(templatePack, start), factsOf(), start)
    expect(effects).toEqual([{ kind: 'sendEmail', step: 'deliver', email: 1 }])
    expect(enrolment).toEqual({ startedAt: start, step: 'two-days', dueAt: start + 2 * day })
    expect(decisions.map(({ outcome, reason }) => `${outcome} ${reason}`)).toEqual([
      'sent “Your template pack”',
      'waits 2 days, until 5 Mar 09:00',
    ])
  })

  it('stands still before the wait is over, and says nothing twice', () => {
    const waiting = run(templatePack, enrol(templatePack, start), factsOf(), start).enrolment
    const again = run(templatePack, waiting, factsOf(), start + 2 * day - 1)
    expect(again).toEqual({ enrolment: waiting, effects: [], decisions: [] })
  })
})

describe('after the wait', () => {
  const waiting = { startedAt: start, step: 'two-days', dueAt: start + 2 * day }

  it('reminds who did not click, and says where it looked', () => {
    const { enrolment, effects, decisions } = run(templatePack, waiting, factsOf(), start + 2 * day)
    expect(effects).toEqual([
      { kind: 'sendEmail', step: 'remind', email: 2 },
      { kind: 'addTag', step: 'tag', tag: 7 },
    ])
    expect(enrolment.step).toBeNull()
    // The form of the reason stands in followup-engine.md, "advance".
    expect(decisions[0]?.reason).toBe(
      'Not yet: clicked in “Your template pack”: no (looked from 3 Mar 09:00 until 5 Mar 09:00)',
    )
  })

  it('invites who clicked since the start; a click before it counts for nothing', () => {
    const click = (at: number): Activity => ({
      kind: 'emailClicked',
      at,
      details: { email: 1, message: 1, link: 1 },
    })
    const after = run(templatePack, waiting, factsOf([click(start + hour)]), start + 2 * day)
    const before = run(templatePack, waiting, factsOf([click(start - hour)]), start + 2 * day)
    expect(after.effects[0]).toMatchObject({ step: 'invite' })
    expect(before.effects[0]).toMatchObject({ step: 'remind' })
  })

  it('does not put a tag on twice', () => {
    const { effects, decisions } = run(templatePack, waiting, factsOf([], 'subscribed', [7]), start + 2 * day)
    expect(effects).toHaveLength(1)
    expect(decisions.find(({ outcome }) => outcome === 'tagged')?.reason).toBe('“Invited”, already there')
  })
})

describe('a tag that was deleted', () => {
  it('is put on nobody, says so, and holds nobody up', () => {
    const facts = factsOf()
    const without = { ...facts, context: { ...facts.context, names: { ...facts.context.names, tags: {} } } }
    const { effects, enrolment, decisions } = run(
      templatePack,
      { startedAt: start, step: 'tag', dueAt: null },
      without,
      start,
    )
    expect([effects, enrolment.step]).toEqual([[], null])
    expect(decisions[0]).toMatchObject({
      outcome: 'skipped',
      reason: 'the tag was deleted (7)',
    })
  })
})

describe('permission', () => {
  it.each([
    ['unsubscribed', true, false],
    ['waiting', true, false],
    ['neverAsked', true, false],
    ['complained', true, false],
    ['bounced', false, false],
    ['subscribed', true, true],
  ] as const)('a person who is %s gets what they asked for: %s, marketing: %s', (state, asked, marketing) => {
    const first = run(templatePack, enrol(templatePack, start), factsOf([], state), start)
    const second = run(
      templatePack,
      { startedAt: start, step: 'clicked', dueAt: null },
      factsOf([], state),
      start,
    )
    expect(first.effects.length > 0).toBe(asked)
    expect(second.effects.some(({ kind }) => kind === 'sendEmail')).toBe(marketing)
  })
})

describe('the end of a lane', () => {
  const ending: Program = program.parse({
    ...templatePack,
    steps: [
      { kind: 'end', id: 'stop' },
      { kind: 'send', id: 'never', email: 1 },
    ],
  })
  it('leaves there, whatever comes after', () => {
    const { enrolment, effects } = run(ending, enrol(ending, start), factsOf(), start)
    expect([enrolment.step, effects]).toEqual([null, []])
  })

  it('leaves with a reason when the step is no longer part of the follow-up', () => {
    const { decisions } = run(ending, { startedAt: start, step: 'gone', dueAt: null }, factsOf(), start)
    expect(decisions).toMatchObject([
      { outcome: 'left', reason: 'this step is no longer part of the follow-up' },
    ])
  })
})

it('ends for every program, passes a step at most once, and repeats itself exactly', () => {
  fc.assert(
    fc.property(anyProgram(templatePack, clickedDelivery), fc.boolean(), (of, clicked) => {
      const facts = factsOf(
        clicked ? [{ kind: 'emailClicked', at: start, details: { email: 1, message: 1, link: 1 } }] : [],
      )
      let enrolment = enrol(of, start)
      let now = start
      const sent: string[] = []
      for (let rounds = 0; enrolment.step !== null; rounds += 1) {
        expect(rounds).toBeLessThan(200)
        const moved = run(of, enrolment, facts, now)
        expect(run(of, enrolment, facts, now)).toEqual(moved)
        sent.push(...moved.effects.map(({ step }) => step))
        enrolment = moved.enrolment
        now = enrolment.dueAt ?? now
      }
      expect(new Set(sent).size).toBe(sent.length)
    }),
    { numRuns: 200 },
  )
})

describe('what starts it', () => {
  const formSent: Activity = { kind: 'formSent', at: start, details: { page: 1 } }
  it('is the activity with the wanted details; what is left open matches any', () => {
    expect(starts({ kind: 'formSent', page: 1 }, formSent)).toBe(true)
    expect(starts({ kind: 'formSent', page: 2 }, formSent)).toBe(false)
    expect(starts({ kind: 'formSent' }, formSent)).toBe(true)
    expect(starts({ kind: 'tagAdded', tag: 1 }, formSent)).toBe(false)
    // Who is held out left the checkout like everybody, and nothing starts by it.
    const left = (details: { heldOut?: boolean }) => ({ kind: 'checkoutLeft' as const, at: 0, details })
    expect(starts({ kind: 'checkoutLeft' }, left({}))).toBe(true)
    expect(starts({ kind: 'checkoutLeft' }, left({ heldOut: true }))).toBe(false)
  })

  it('lets a person in once, or again after leaving', () => {
    const again: Program = { ...templatePack, reentry: 'afterLeaving' }
    expect(mayEnter(templatePack, [], start).allowed).toBe(true)
    expect(mayEnter(templatePack, [{ ended: true, startedAt: start }], start).allowed).toBe(false)
    expect(mayEnter(again, [{ ended: true, startedAt: start }], start).allowed).toBe(true)
    expect(
      mayEnter(
        again,
        [
          { ended: true, startedAt: start },
          { ended: false, startedAt: start },
        ],
        start,
      ),
    ).toEqual({
      allowed: false,
      reason: 'is already inside',
    })
  })

  it('refuses a program in which two steps have one id', () => {
    const twice = { ...templatePack, steps: [templatePack.steps[0], templatePack.steps[0]] }
    expect(program.safeParse(twice).error?.issues[0]?.message).toBe('Two steps have the id deliver')
  })
})
