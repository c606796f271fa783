import type { Activity, ActivityKind, Instant } from '../audience/people/activity.ts'
import type { Person } from '../audience/people/person.ts'
import { evaluate } from '../audience/segments/evaluate.ts'
import { advance, enrol } from './advance.ts'
import type { Behaviour } from './behaviour.ts'
import type { Effect, Enrolment, Facts, Outcome } from './enrolment.ts'
import type { Program } from './program.ts'
import { percentOf } from './share.ts'
import { mayEnter, mostEntriesADay, starts, type Earlier } from './starting.ts'
import { indexSteps, type Track } from './track.ts'
import { awaitedBy, type AwaitedActivity } from './trigger.ts'
import { spanEnds } from './waiting.ts'
import { wakingsOf } from './wakes.ts'
import { matchesDetails } from '../audience/people/activity.ts'

const minute = 60_000
const by = 'follow-up'
const day = 24 * 60 * minute

/** A follow-up that takes part in a rehearsal. */
export interface Rehearsed {
  id: number
  program: Program
}

/** One line of what a rehearsal found: what a follow-up decided, or what the person did. */
export type RehearsalLine =
  | {
      at: Instant
      followup: number
      step: string | null
      outcome: Outcome
      reason: string
      email: number | null
    }
  | { at: Instant; did: ActivityKind; details: Activity['details'] }

export const isDecision = (line: RehearsalLine): line is Extract<RehearsalLine, { outcome: Outcome }> =>
  'outcome' in line

/** What is rehearsed. */
export interface RehearsalRequest {
  /** Those that may run; what the person does starts the others. */
  followups: readonly Rehearsed[]
  /** The one that begins. */
  first: number
  facts: Facts
  behaviour: Behaviour
  start: Instant
  until: Instant
}

interface Run {
  followup: Rehearsed
  track: Track
  wakings: readonly AwaitedActivity[]
  enrolment: Enrolment
  number: number
}

/** A person whom everything happens to in memory. */
class Stage {
  readonly lines: RehearsalLine[] = []
  private readonly runs: Run[] = []
  private readonly coming: Activity[] = []
  private readonly activities: Activity[]
  private readonly entries: Instant[] = []
  private person: Person
  private emails = 0
  private readonly asked: RehearsalRequest

  constructor(asked: RehearsalRequest) {
    this.asked = asked
    this.activities = [...asked.facts.person.activities]
    this.person = { ...asked.facts.person, activities: this.activities }
    for (const { does, after } of asked.behaviour.does)
      if (after.what === 'start') this.plan(spanEnds(after.span, asked.start, this.zone), awaitedBy(does))
    const first = asked.followups.find(({ id }) => id === asked.first)
    if (first) this.enter(first, asked.start)
  }

  private get zone(): string {
    return this.asked.followups[0]?.program.zone ?? 'UTC'
  }

  private plan(at: Instant, { kind, details }: { kind: ActivityKind; details: object }): void {
    const activity = { kind, at, details } as Activity
    const place = this.coming.findIndex((each) => each.at > at)
    this.coming.splice(place < 0 ? this.coming.length : place, 0, activity)
  }

  /** Lets the person in, as the server would. */
  private enter(followup: Rehearsed, at: Instant): void {
    const { program, id } = followup
    const earlier = this.runs
      .filter((run) => run.followup.id === id)
      .map(({ enrolment }): Earlier => ({ startedAt: enrolment.startedAt, ended: enrolment.step === null }))
    if (!mayEnter(program, earlier, at).allowed) return
    if (this.entries.filter((each) => each > at - day).length >= mostEntriesADay) return
    const { entryCondition, zone } = program
    if (
      entryCondition &&
      evaluate(entryCondition, this.person, { ...this.asked.facts.context, zone, now: at }).holds !== true
    )
      return
    this.entries.push(at)
    const run: Run = {
      followup,
      track: indexSteps(program),
      wakings: wakingsOf(program, this.asked.facts.context.segments),
      enrolment: enrol(program, at),
      number: this.runs.length,
    }
    this.runs.push(run)
    this.happen({ kind: 'followupStarted', at, details: { followup: id, enrolment: run.number + 1 } })
    this.move(run, at)
  }

  private move(run: Run, at: Instant): void {
    const { program, id } = run.followup
    const facts: Facts = { ...this.asked.facts, person: this.person }
    const { enrolment, effects, decisions } = advance(program, run.track, run.enrolment, facts, at)
    const sent = effects.flatMap((effect) => (effect.kind === 'sendEmail' ? [effect] : []))
    run.enrolment = { ...enrolment, sent: [...(run.enrolment.sent ?? []), ...sent.map(({ step }) => step)] }
    for (const decision of decisions)
      this.lines.push({
        ...decision,
        followup: id,
        email: sent.find(({ step }) => step === decision.step && decision.outcome === 'sent')?.email ?? null,
      })
    for (const effect of effects) this.apply(effect, at)
    if (enrolment.step === null)
      this.happen({ kind: 'followupEnded', at, details: { followup: id, enrolment: run.number + 1 } })
  }

  /** Whether of a hundred this one is among the first so many: the same person always does the same. */
  private does(percent: number, what: string): boolean {
    return percentOf(`${this.asked.facts.seed} ${this.emails} ${what}`) < percent
  }

  private mailed(email: number, at: Instant): void {
    const { behaviour } = this.asked
    this.emails += 1
    const message = this.emails
    this.happen({ kind: 'emailSent', at, details: { email, message } })
    const opened = at + behaviour.opensAfter * minute
    if (this.does(behaviour.opens, 'opens')) {
      this.plan(opened, { kind: 'emailOpened', details: { email, message } })
      if (this.does(behaviour.clicks, 'clicks'))
        this.plan(opened + 5 * minute, { kind: 'emailClicked', details: { email, message } })
    }
    for (const { does, after } of behaviour.does)
      if (after.what === 'email' && after.nth === message)
        this.plan(spanEnds(after.span, at, this.zone), awaitedBy(does))
  }

  private readonly appliers: {
    [K in Effect['kind']]: (effect: Extract<Effect, { kind: K }>, at: Instant) => void
  } = {
    sendEmail: ({ email }, at) => this.mailed(email, at),
    addTag: ({ tag }, at) => this.happen({ kind: 'tagAdded', at, details: { tag, by } }),
    removeTag: ({ tag }, at) => this.happen({ kind: 'tagRemoved', at, details: { tag, by } }),
    joinTopic: ({ topic }, at) => this.happen({ kind: 'topicJoined', at, details: { topic, by } }),
    leaveTopic: ({ topic }, at) => this.happen({ kind: 'topicLeft', at, details: { topic, by } }),
    setField: ({ field, value }, at) => {
      this.person = { ...this.person, fields: { ...this.person.fields, [field]: value } }
      this.happen({ kind: 'contactChanged', at, details: { fields: [], changed: [field], by } })
    },
    startDeadline: ({ offer, endsAt }) => {
      this.person = { ...this.person, deadlines: { ...this.person.deadlines, [offer]: endsAt } }
    },
    startFollowup: ({ followup }, at) => {
      const other = this.asked.followups.find(({ id }) => id === followup)
      if (other) this.enter(other, at)
    },
    leaveFollowup: ({ followup }, at) => this.leave(followup, at),
    // What the team, a scorecard or another server is told, or what they may buy for less, changes nothing here.
    notifyTeam: () => undefined,
    givePoints: () => undefined,
    makeCoupon: () => undefined,
    webhook: () => undefined,
  }

  private apply(effect: Effect, at: Instant): void {
    ;(this.appliers[effect.kind] as (effect: Effect, at: Instant) => void)(effect, at)
  }

  private leave(followup: number, at: Instant): void {
    for (const run of this.runs) {
      const { step } = run.enrolment
      if (run.followup.id !== followup || step === null) continue
      run.enrolment = { ...run.enrolment, step: null, dueAt: null }
      const reason = 'another follow-up took them out'
      this.lines.push({ at, followup, step, outcome: 'left', reason, email: null })
    }
  }

  /** Something happens: it is remembered, wakes whom it concerns, and starts what it starts. */
  private happen(activity: Activity): void {
    this.activities.push(activity)
    const details = activity.details as Record<string, unknown>
    const { tag, topic } = details as { tag?: number; topic?: number }
    const tags = new Set(this.person.tags)
    const topics = new Set(this.person.topics)
    let { marketing } = this.person
    if (activity.kind === 'tagAdded' && tag !== undefined) tags.add(tag)
    if (activity.kind === 'tagRemoved' && tag !== undefined) tags.delete(tag)
    if (activity.kind === 'topicJoined' && topic !== undefined) topics.add(topic)
    if (activity.kind === 'topicLeft' && topic !== undefined) topics.delete(topic)
    if (activity.kind === 'addressConfirmed' && marketing === 'waiting') marketing = 'subscribed'
    if (activity.kind === 'unsubscribed') marketing = 'unsubscribed'
    this.person = { ...this.person, tags, topics, marketing, activities: this.activities }
    for (const run of this.runs) {
      const { step, dueAt } = run.enrolment
      if (step === null || dueAt === null || dueAt <= activity.at) continue
      const isWoken = run.wakings.some(
        (waking) => waking.kind === activity.kind && matchesDetails(activity, waking.details),
      )
      if (isWoken) this.woken.add(run)
    }
    for (const followup of this.asked.followups)
      if (followup.program.startsWhen.some((rule) => starts(rule, activity)))
        this.starting.push({ followup, at: activity.at })
  }

  private readonly woken = new Set<Run>()
  private readonly starting: { followup: Rehearsed; at: Instant }[] = []

  /** Follows what happened until nothing more comes of it at this moment. */
  private settle(at: Instant): void {
    for (;;) {
      const [run] = this.woken
      if (run) {
        this.woken.delete(run)
        if (run.enrolment.step !== null) this.move(run, at)
        continue
      }
      const next = this.starting.shift()
      if (!next) return
      this.enter(next.followup, next.at)
    }
  }

  run(): RehearsalLine[] {
    const { start, until } = this.asked
    this.settle(start)
    for (;;) {
      const due = this.runs
        .filter(({ enrolment }) => enrolment.step !== null && enrolment.dueAt !== null)
        .sort((a, b) => (a.enrolment.dueAt ?? 0) - (b.enrolment.dueAt ?? 0))[0]
      const dueAt = due?.enrolment.dueAt ?? Infinity
      const next = this.coming[0]
      const at = Math.min(dueAt, next?.at ?? Infinity)
      if (at > until) return this.lines
      // What somebody does at the moment of a step comes before it.
      if (next && next.at <= dueAt) {
        this.coming.shift()
        this.lines.push({ at, did: next.kind, details: next.details })
        this.happen(next)
      } else if (due) this.move(due, at)
      this.settle(at)
    }
  }
}

/**
 * Takes one person through follow-ups in memory, by the same engine that runs live: what they do is given, time jumps
 * from one event to the next.
 * @returns what was decided and done, oldest first
 */
export const rehearse = (request: RehearsalRequest): RehearsalLine[] => new Stage(request).run()
