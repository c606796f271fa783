import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyProgram, anyTrigger } from '../../testing/programs.ts'
import type { Activity } from '../audience/people/activity.ts'
import { matchesDetails } from '../audience/people/activity.ts'
import { stranger } from '../audience/people/person.ts'
import { noNames } from '../audience/segments/names.ts'
import { advance, enrol } from './advance.ts'
import type { Behaviour } from './behaviour.ts'
import type { Decision, Effect, Enrolment, Facts } from './enrolment.ts'
import type { LeaveRule, Program } from './program.ts'
import { isDecision, rehearse } from './rehearsal.ts'
import { allSteps, isWait } from './step.ts'
import { indexSteps, survivorOf } from './track.ts'
import { awaitedBy, type Trigger } from './trigger.ts'
import { wakingsOf } from './wakes.ts'

const start = Date.parse('2026-03-03T09:00:00Z')
const hour = 3_600_000
const day = 24 * hour
const when = { kind: 'did', activity: 'emailClicked', details: { email: 2 }, atLeast: 1 } as const

const frame: Omit<Program, 'steps'> = {
  startsWhen: [{ kind: 'formSent' }],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
}

const facts: Facts = {
  person: { ...stranger, marketing: 'subscribed', builtIn: { zone: 'America/New_York' } },
  emails: { 1: { purpose: 'transactional' }, 2: { purpose: 'marketing' } },
  fields: [{ id: 1, name: 'Favourite', kind: 'text', options: [] }],
  sessions: {},
  seed: '4 2',
  context: {
    names: {
      ...noNames(),
      emails: { 1: 'Your template pack', 2: 'Did you find it?' },
      tags: { 1: 'Ready', 7: 'Invited' },
      topics: { 1: 'Letters' },
      scorecards: { 1: 'Interest' },
      fields: { 1: 'Favourite' },
    },
    segments: {},
    scorecards: {},
  },
}

/** Programs with rules by which people leave or jump. */
const anyLeaving: fc.Arbitrary<Program> = fc
  .tuple(anyProgram(frame, when), fc.array(fc.tuple(anyTrigger, fc.boolean()), { maxLength: 3 }))
  .map(([program, rules]) => {
    const milestone = allSteps(program.steps).find(({ kind }) => kind === 'milestone')?.id
    return {
      ...program,
      leavesWhen: rules.map(([when, jumps]): LeaveRule =>
        jumps && milestone !== undefined ? { when, milestone } : { when },
      ),
    }
  })

interface Deed {
  does: Trigger
  after: number
}
const anyDeeds: fc.Arbitrary<Deed[]> = fc.array(
  fc.record({ does: anyTrigger, after: fc.integer({ min: 1, max: 40 * 24 }).map((hours) => hours * hour) }),
  { maxLength: 8 },
)

const activityOf = ({ does, after }: Deed): Activity => ({ ...awaitedBy(does), at: start + after })

/**
 * The server's part, in memory: advances somebody when they are due or woken, and only then. What they did until a
 * moment is known at that moment.
 */
function live(program: Program, deeds: readonly Deed[], until = start + 400 * day) {
  const track = indexSteps(program)
  const wakings = wakingsOf(program, {})
  const acts = deeds.map(activityOf).sort((a, b) => a.at - b.at)
  const decisions: Decision[] = []
  const sent: { step: string; at: number }[] = []
  let enrolment: Enrolment = enrol(program, start)
  let leftAt = Infinity
  const known = {
    tags: new Set<number>(),
    topics: new Set<number>(),
    fields: {} as Record<number, string>,
    deadlines: {} as Record<string, number>,
  }
  const apply = (effect: Effect): void => {
    if (effect.kind === 'addTag') known.tags.add(effect.tag)
    if (effect.kind === 'removeTag') known.tags.delete(effect.tag)
    if (effect.kind === 'joinTopic') known.topics.add(effect.topic)
    if (effect.kind === 'leaveTopic') known.topics.delete(effect.topic)
    if (effect.kind === 'setField') known.fields[effect.field] = String(effect.value)
    if (effect.kind === 'startDeadline') known.deadlines[effect.offer] = effect.endsAt
  }
  const looked = new Set<Activity>()
  const move = (now: number): void => {
    const activities = acts.filter(({ at }) => at <= now)
    const person = { ...facts.person, ...known, activities }
    const moved = advance(program, track, enrolment, { ...facts, person }, now)
    moved.effects.forEach(apply)
    const emails = moved.effects.flatMap(({ kind, step }) => (kind === 'sendEmail' ? [step] : []))
    enrolment = { ...moved.enrolment, sent: [...(enrolment.sent ?? []), ...emails] }
    decisions.push(...moved.decisions)
    sent.push(...emails.map((step) => ({ step, at: now })))
    if (enrolment.step === null) leftAt = Math.min(leftAt, now)
  }
  move(start)
  let rounds = 0
  for (;;) {
    rounds += 1
    const due = enrolment.step === null ? Infinity : (enrolment.dueAt ?? start)
    const woken = acts.find(
      (act) =>
        act.at > (decisions.at(-1)?.at ?? start) &&
        act.at <= due &&
        wakings.some(({ kind, details }) => act.kind === kind && matchesDetails(act, details)) &&
        !looked.has(act),
    )
    const at = enrolment.step === null ? Infinity : Math.min(due, woken?.at ?? Infinity)
    if (at > until) return { decisions, sent, leftAt, rounds, enrolment }
    if (woken && woken.at === at) looked.add(woken)
    move(at)
  }
}
describe('any program, person and order of activity', () => {
  it('leaves nobody stuck: everybody is out at last, and whoever is inside waits for a moment', () => {
    fc.assert(
      fc.property(anyLeaving, anyDeeds, (program, deeds) => {
        const until = start + 20 * day
        const half = live(program, deeds, until)
        if (half.enrolment.step !== null) {
          expect(half.enrolment.dueAt).toBeGreaterThan(until)
          const standing = indexSteps(program).get(half.enrolment.step)?.step
          expect(standing && isWait(standing)).toBe(true)
        }
        const whole = live(program, deeds)
        expect(whole.enrolment.step).toBeNull()
        expect(whole.rounds).toBeLessThan(500)
      }),
      { numRuns: 150 },
    )
  })

  it('sends no step twice, and nothing after somebody left', () => {
    fc.assert(
      fc.property(anyLeaving, anyDeeds, (program, deeds) => {
        const { sent, leftAt } = live(program, deeds)
        expect(new Set(sent.map(({ step }) => step)).size).toBe(sent.length)
        for (const { at } of sent) expect(at).toBeLessThanOrEqual(leftAt)
        const left = deeds.filter(({ does }) =>
          program.leavesWhen.some(
            (rule) => rule.milestone === undefined && JSON.stringify(rule.when) === JSON.stringify(does),
          ),
        )
        const first = Math.min(...left.map(({ after }) => start + after))
        expect(sent.filter(({ at }) => at > first)).toEqual([])
      }),
      { numRuns: 150 },
    )
  })

  it('decides in rehearsal what it decides live', () => {
    fc.assert(
      fc.property(anyLeaving, anyDeeds, (program, deeds) => {
        // Who neither opens nor clicks does only what is given.
        const given = deeds.filter(({ does }) => does.kind === 'productBought' || does.kind === 'pageVisited')
        const behaviour: Behaviour = {
          opens: 0,
          clicks: 0,
          opensAfter: 60,
          does: given.map(({ does, after }) => ({
            does,
            after: { what: 'start', span: { amount: after / hour, unit: 'hours' } },
          })),
        }
        const quiet = {
          ...program,
          leavesWhen: program.leavesWhen.filter(
            ({ when: { kind } }) => kind === 'productBought' || kind === 'pageVisited',
          ),
        }
        const until = start + 60 * day
        const lines = rehearse({
          followups: [{ id: 1, program: quiet }],
          first: 1,
          facts,
          behaviour,
          start,
          until,
        }).filter(isDecision)
        const plain = ({ at, step, outcome, reason }: Decision) => ({ at, step, outcome, reason })
        expect(lines.map(plain)).toEqual(live(quiet, given, until).decisions.map(plain))
      }),
      { numRuns: 150 },
    )
  })

  it('keeps everybody’s place when it is edited: on their step, or the next one on their way that survives', () => {
    fc.assert(
      fc.property(anyProgram(frame, when), fc.infiniteStream(fc.boolean()), (before, keeps) => {
        const kept = (steps: Program['steps']): Program['steps'] => steps.filter(() => keeps.next().value)
        const after = { ...before, steps: kept(before.steps) }
        const [old, now] = [indexSteps(before), indexSteps(after)]
        for (const [id, { order }] of old) {
          const survivor = survivorOf(old, now, id)
          if (now.has(id)) expect(survivor).toBe(id)
          if (survivor === null) continue
          expect(now.has(survivor)).toBe(true)
          expect(old.get(survivor)?.order).toBeGreaterThanOrEqual(order)
        }
      }),
      { numRuns: 150 },
    )
  })
})
