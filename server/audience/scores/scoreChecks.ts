import type { z } from 'zod'
import type {
  BandMoves,
  BehaviourView,
  OutcomeQuestion,
  ScoreCheckView,
  historyView,
} from '../../../contract/audience/scores.ts'
import type { ActivityKind, Instant } from '../../../core/audience/people/activity.ts'
import { activityTraits, kindsWith } from '../../../core/audience/people/activityTraits.ts'
import { createScoreAdder, noScore, scoreAt } from '../../../core/audience/scores/score.ts'
import { checkScores } from '../../../core/audience/scores/scoreCheck.ts'
import {
  bandOf,
  conditionsOfCard,
  halfLivesOf,
  type Scorecard,
} from '../../../core/audience/scores/scorecard.ts'
import type { EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import { openClient } from '../../database/copy.ts'
import type { Platform } from '../../platform.ts'
import { loadContext, refuseLarge } from '../segments/evaluationContext.ts'
import { dayNumbers } from './dayNumbers.ts'
import { readTallies, type Tally } from './rescoring.ts'
import { loadScorecards } from './scoring.ts'

/** More people tell no more: beyond, a random part of them is looked at. Ids say nothing of a person. */
const enoughPeople = 100_000

/** A look at everybody's history may take longer than an answer about a list, but not for ever. */
const longestLook = '60s'

async function sampling(platform: Platform): Promise<number> {
  const found = await platform.database.row<{ people: number }>(
    'select count(*) people from contact where not rehearsal',
  )
  return Math.max(1, Math.ceil((found?.people ?? 0) / enoughPeople))
}

/**
 * What a card makes of everybody (or the sample) as of a moment, by contact; what follow-ups gave is not the card's
 * doing.
 */
async function tallies<T>(
  platform: Platform,
  card: Scorecard,
  context: EvaluationContext,
  sample: number,
  of: (tally: Tally) => T,
): Promise<Map<number, T>> {
  const client = await openClient(platform)
  try {
    await client.query('begin')
    await client.query(`set local statement_timeout = '${longestLook}'`)
    const found = new Map<number, T>()
    for await (const some of readTallies(client, { id: null, card }, context, sample))
      for (const tally of some) found.set(tally.contact, of(tally))
    return found
  } finally {
    await client.end()
  }
}

function scoreOf(card: Scorecard, at: Instant, dayOf: (at: Instant) => number): (tally: Tally) => number {
  const [add, halfLives] = [createScoreAdder(card, dayOf), halfLivesOf(card)]
  return ({ hits, profile }) => profile + scoreAt(add(hits), halfLives, at)
}

/** How many people other rules would move from one band to another. */
export async function previewMoves(
  platform: Platform,
  scorecard: number,
  next: Scorecard,
): Promise<BandMoves> {
  const card = (await loadScorecards(platform.database, [scorecard])).get(scorecard)
  const trees = [...(card ? [card] : []), next].flatMap(conditionsOfCard)
  const base = await loadContext(platform.database, trees)
  refuseLarge(trees, base.segments)
  const now = platform.clock.now()
  const sample = await sampling(platform)
  const dayOf = dayNumbers(base.zone)
  const context = { ...base, now }
  const before = card
    ? await tallies(platform, card, context, sample, scoreOf(card, now, dayOf))
    : new Map<number, number>()
  const after = await tallies(platform, next, context, sample, scoreOf(next, now, dayOf))
  const people = await platform.database.rows<{ id: number }>(
    'select id from contact where not rehearsal and id % $1 = 0',
    [sample],
  )
  const counts = new Map<string, { from: string; to: string; people: number }>()
  for (const { id } of people) {
    const from = bandOf(card ?? next, before.get(id) ?? 0)
    const to = bandOf(next, after.get(id) ?? 0)
    if (from.id === to.id) continue
    const key = `${from.id} ${to.id}`
    const move = counts.get(key) ?? { from: from.name, to: to.name, people: 0 }
    counts.set(key, { ...move, people: move.people + sample })
  }
  const moves = [...counts.values()].sort((a, b) => b.people - a.people)
  return {
    people: people.length * sample,
    moved: moves.reduce((sum, move) => sum + move.people, 0),
    sampled: sample > 1,
    moves,
  }
}

interface Looked {
  asOf: Instant
  people: { id: number; did: boolean }[]
  sample: number
}

/**
 * Everybody who was there `days` ago and had not done it yet, with whether they did it since: what the score of that
 * day is held against, so that it cannot know the answer.
 */
async function lookBack(platform: Platform, { outcome, days }: OutcomeQuestion): Promise<Looked> {
  const asOf = platform.clock.now() - days * 86_400_000
  const sample = await sampling(platform)
  const people = await platform.database.rows<{ id: number; did: boolean }>(
    `select c.id, exists (select from activity where contact_id = c.id and kind = $3 and details @> $4::jsonb and at > $2) did
     from contact c where not c.rehearsal and c.id % $1 = 0 and c.created_at <= $2
       and not exists (select from activity where contact_id = c.id and kind = $3 and details @> $4::jsonb and at <= $2)
     order by c.id`,
    [sample, new Date(asOf), outcome.activity, JSON.stringify(outcome.details)],
  )
  return { asOf, people, sample }
}

/**
 * Holds a scorecard against what people did: conversion by band, and how well the score orders them. Points for who
 * somebody is are left out: who they were on that day is not known, and who they have become may be the answer itself
 * (a buyer has the tag of buyers).
 */
export async function checkCard(
  platform: Platform,
  asked: Scorecard,
  question: OutcomeQuestion,
): Promise<ScoreCheckView> {
  const card = { ...asked, profile: [] }
  const context = await loadContext(platform.database, [])
  const { asOf, people, sample } = await lookBack(platform, question)
  const dayOf = dayNumbers(context.zone)
  const scores = await tallies(platform, card, { ...context, now: asOf }, sample, scoreOf(card, asOf, dayOf))
  const zero = scoreAt(noScore, [], asOf)
  const check = checkScores(
    card,
    people.map(({ id }) => scores.get(id) ?? zero),
    people.map(({ did }) => did),
  )
  return { ...check, asOf: new Date(asOf).toISOString() }
}

/** Kinds that are looked at as they are, and kinds that are told apart by what they were about. */
const wholeKinds = kindsWith(({ learnedBy }) => learnedBy === 'kind')
const kindsByThing = kindsWith(({ learnedBy }) => learnedBy !== null && learnedBy !== 'kind')
const mostBehaviours = 24

/** What no rule looks at yet is taken to fade like most interest does: by half in two months (common practice). */
const usualHalfLife = 60

const same = (a: BehaviourView, b: BehaviourView): boolean =>
  a.activity === b.activity && JSON.stringify(a.details) === JSON.stringify(b.details)

/** What people could be given points for: what today's rules look at, and what else is often done. */
async function candidates(
  platform: Platform,
  card: Scorecard,
  question: OutcomeQuestion,
): Promise<BehaviourView[]> {
  const things = await platform.database.rows<{ activity: ActivityKind; key: string; id: number }>(
    `select kind activity, t.key, (details->>t.key)::bigint id from activity
     join unnest($1::text[], $2::text[]) t (kind, key) using (kind) group by 1, 2, 3 order by count(*) desc limit ${mostBehaviours}`,
    [kindsByThing, kindsByThing.map((kind) => activityTraits[kind].learnedBy)],
  )
  const all: BehaviourView[] = [
    ...card.behaviours.map(({ activity, details }) => ({ activity, details })),
    ...wholeKinds.map((activity) => ({ activity, details: {} })),
    ...things.map(({ activity, key, id }) => ({ activity, details: { [key]: id } })),
  ]
  // What is hoped for cannot be what it is told from.
  return all
    .filter((each, i) => all.findIndex((other) => same(each, other)) === i && !same(each, question.outcome))
    .slice(0, mostBehaviours)
}

/** What points can be learned from: who had done what as of some days ago, and who did what is hoped for since. */
export async function readHistory(
  platform: Platform,
  card: Scorecard,
  question: OutcomeQuestion,
): Promise<z.infer<typeof historyView>> {
  const context = await loadContext(platform.database, [])
  const behaviours = await candidates(platform, card, question)
  const { asOf, people, sample } = await lookBack(platform, question)
  const fading = behaviours.map((each) => {
    const rule = card.behaviours.find((other) => same(other, each))
    return rule ? rule.halfLife : usualHalfLife
  })
  const counting: Scorecard = {
    ...card,
    profile: [],
    behaviours: behaviours.map((each, i) => ({
      ...each,
      id: `b${i}`,
      points: 1,
      capPerDay: null,
      capInAll: null,
      halfLife: null,
    })),
  }
  const none = behaviours.map(() => 0)
  const counts = await tallies(platform, counting, { ...context, now: asOf }, sample, ({ hits }) => {
    const row = [...none]
    for (const { rule, at } of hits) {
      const halfLife = fading[rule] ?? null
      row[rule] = (row[rule] ?? 0) + (halfLife === null ? 1 : 0.5 ** ((asOf - at) / (halfLife * 86_400_000)))
    }
    return row
  })
  return {
    behaviours: behaviours.map((each, i) => ({ ...each, halfLife: fading[i] ?? null })),
    counts: people.map(({ id }) => counts.get(id) ?? none),
    outcomes: people.map(({ did }) => did),
  }
}
