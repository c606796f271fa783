import type { ActivityKind, Instant } from '../../../core/audience/people/activity.ts'
import { evaluate, type EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import {
  createScoreAdder,
  nextCrossing,
  scoreAt,
  type Hit,
  type StoredScore,
} from '../../../core/audience/scores/score.ts'
import {
  bandOf,
  conditionsOfCard,
  halfLivesOf,
  type Band,
  type Scorecard,
} from '../../../core/audience/scores/scorecard.ts'
import { matchesDetails } from '../../../core/audience/people/activity.ts'
import type { Person } from '../../../core/audience/people/person.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { recordActivities } from '../people/activities.ts'
import type { NewActivity } from '../people/newActivity.ts'
import { loadContext } from '../segments/evaluationContext.ts'
import { dayNumbers } from './dayNumbers.ts'
import { activityKindsIn, loadPeople } from '../people/personFacts.ts'

/** Crossings noticed in one transaction. */
const batch = 500

/** The kinds of activity that a scorecard gives points for, or asks about in its profile rules. */
export function kindsScored(card: Scorecard, context: Pick<EvaluationContext, 'segments'>): ActivityKind[] {
  const asked = activityKindsIn(
    card.profile.map(({ when }) => when),
    context.segments,
  )
  return [...new Set([...card.behaviours.map(({ activity }) => activity), ...asked, 'pointsGiven' as const])]
}

/** Scorecards by id: all of them, or those that are meant. */
export async function loadScorecards(q: Queries, ids?: readonly number[]): Promise<Map<number, Scorecard>> {
  const rows = await q.rows<{ id: number; card: Scorecard }>(
    `select id, card from scorecard where $1::bigint[] is null or id = any($1) order by id`,
    [ids ?? null],
  )
  return new Map(rows.map(({ id, card }) => [id, card]))
}

/** Points that follow-ups gave somebody in a scorecard until a moment: they stay. */
export const pointsGiven = (scorecard: number, { activities }: Person, now: Instant): number =>
  activities.reduce(
    (sum, { kind, at, details }) =>
      kind === 'pointsGiven' && at <= now && 'points' in details && details.scorecard === scorecard
        ? sum + details.points
        : sum,
    0,
  )

/** What one person's score is made of, from all that they have done until a moment. */
export function scorePerson(
  scorecard: number,
  card: Scorecard,
  person: Person,
  context: EvaluationContext,
  dayOf: (at: Instant) => number,
): StoredScore {
  const hits = person.activities.flatMap((activity): Hit[] =>
    activity.at > context.now
      ? []
      : card.behaviours.flatMap((rule, i) =>
          rule.activity === activity.kind && matchesDetails(activity, rule.details)
            ? [{ rule: i, at: activity.at }]
            : [],
        ),
  )
  const stored = createScoreAdder(card, dayOf)(hits)
  const profile = card.profile
    .filter(({ when }) => evaluate(when, person, context).holds === true)
    .reduce((sum, { points }) => sum + points, 0)
  return { ...stored, steady: stored.steady + profile + pointsGiven(scorecard, person, context.now) }
}

/** What is written down when somebody comes into another band, upwards or downwards. */
export function bandChange(
  card: Scorecard,
  scorecard: number,
  contact: number,
  [from, to]: readonly [Band, Band],
  at: Instant,
  by: 'activity' | 'time',
): NewActivity {
  const up = card.bands.findIndex(({ id }) => id === to.id) > card.bands.findIndex(({ id }) => id === from.id)
  return up
    ? {
        contact,
        kind: 'bandReached',
        at,
        details: { scorecard, band: to.id, name: to.name, from: from.name, by },
      }
    : {
        contact,
        kind: 'bandLeft',
        at,
        details: { scorecard, band: from.id, name: from.name, to: to.name, by },
      }
}

/** Rows of contact_score to be written for one scorecard. */
export interface ScoreRow {
  contact: number
  stored: StoredScore
  band: string
  crossesAt: Instant | null
}

/** The row that a score is stored as at a moment, with the next moment at which time changes its band. */
export function rowOf(
  card: Scorecard,
  contact: number,
  stored: StoredScore,
  now: Instant,
  halfLives = halfLivesOf(card),
): ScoreRow {
  const band = bandOf(card, scoreAt(stored, halfLives, now))
  return { contact, stored, band: band.id, crossesAt: nextCrossing(card, stored, now, halfLives)?.at ?? null }
}

async function writeScores(q: Queries, scorecard: number, rows: readonly ScoreRow[]): Promise<void> {
  await q.rows(
    // Fading points are as many for every row of a scorecard, and travel as text: there are no ragged arrays.
    `insert into contact_score (scorecard_id, contact_id, as_of, steady, fading, band, crosses_at)
     select $1, contact, as_of, steady, fading::float8[], band, crosses_at
     from unnest($2::bigint[], $3::timestamptz[], $4::float8[], $5::text[], $6::text[], $7::timestamptz[])
       t (contact, as_of, steady, fading, band, crosses_at)
     on conflict (contact_id, scorecard_id) do update set as_of = excluded.as_of, steady = excluded.steady,
       fading = excluded.fading, band = excluded.band, crosses_at = excluded.crosses_at`,
    [
      scorecard,
      rows.map(({ contact }) => contact),
      rows.map(({ stored }) => new Date(stored.asOf)),
      rows.map(({ stored }) => stored.steady),
      rows.map(({ stored }) => `{${stored.fading.join(',')}}`),
      rows.map(({ band }) => band),
      rows.map(({ crossesAt }) => (crossesAt === null ? null : new Date(crossesAt))),
    ],
  )
}

/**
 * Locks scorecards against a change of their rules, as far as they are not being changed: while new rules are worked
 * out for everybody, their scores are nobody else's.
 * @returns the ids of those that are free
 */
async function lockFreeScorecards(q: Queries): Promise<number[]> {
  const free = await q.rows<{ id: number }>('select id from scorecard order by id for share skip locked')
  return free.map(({ id }) => id)
}

/** Scorecards that are being worked out anew, at this moment. */
export class ScorecardBusy extends Error {}

/**
 * Works out the scores of some people from all that they have done: the job `scorePeople`. Doing it again changes
 * nothing, so a job that ran twice does no harm.
 * @throws ScorecardBusy while a scorecard is being worked out for everybody: the queue tries again later
 */
export async function scorePeople(platform: Platform, contacts: readonly number[]): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const free = await lockFreeScorecards(tx)
    const all = await tx.row<{ count: number }>('select count(*) count from scorecard')
    // Nobody waits here: a job that waits would hold a place that others could use.
    if (free.length < (all?.count ?? 0))
      throw new ScorecardBusy('a scorecard is being worked out for everybody')
    // Two jobs about one person wait for each other, so that no change of band is written down twice.
    const clocks = await tx.rows<{ id: number; ahead: number }>(
      'select id, clock_ahead ahead from contact where id = any($1) order by id for no key update',
      [contacts],
    )
    const cards = await loadScorecards(tx)
    const context = await loadContext(tx, [...cards.values()].flatMap(conditionsOfCard))
    const dayOf = dayNumbers(context.zone)
    const changes: NewActivity[] = []
    for (const [scorecard, card] of cards) {
      const before = await tx.rows<{ contact: number; band: string }>(
        'select contact_id contact, band from contact_score where scorecard_id = $1 and contact_id = any($2)',
        [scorecard, contacts],
      )
      const bands = new Map(before.map(({ contact, band }) => [contact, band]))
      const people = await loadPeople(tx, contacts, kindsScored(card, context))
      const rows = clocks.flatMap(({ id, ahead }) => {
        const person = people.get(id)
        const now = platform.clock.now() + ahead
        return person
          ? [rowOf(card, id, scorePerson(scorecard, card, person, { ...context, now }, dayOf), now)]
          : []
      })
      await writeScores(tx, scorecard, rows)
      for (const row of rows) {
        const from = card.bands.find(({ id }) => id === bands.get(row.contact)) ?? bandOf(card, 0)
        const to = card.bands.find(({ id }) => id === row.band)
        const ahead = clocks.find(({ id }) => id === row.contact)?.ahead ?? 0
        if (to && to.id !== from.id)
          changes.push(
            bandChange(card, scorecard, row.contact, [from, to], platform.clock.now() + ahead, 'activity'),
          )
      }
    }
    await recordActivities(tx, changes)
    if (changes.length > 0) await announce(tx, 'audience')
  })
}

interface Crossing {
  scorecard: number
  contact: number
  band: string
  steady: number
  fading: number[]
  asOf: number
  at: number
}

/**
 * Writes down who has come into another band by time alone, at the moment at which it happened. Looks only at those
 * whose moment has come, by an index: a million who wait cost nothing.
 * @param only somebody in rehearsal, with the moment on their own clock
 * @returns how many changed
 */
export async function noticeCrossings(
  platform: Platform,
  only?: { contact: number; now: Instant },
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const free = await lockFreeScorecards(tx)
    const due = await tx.rows<Crossing>(
      `select scorecard_id scorecard, contact_id contact, band, steady, fading,
         floor(extract(epoch from as_of) * 1000)::bigint "asOf", floor(extract(epoch from crosses_at) * 1000)::bigint at
       from contact_score where crosses_at <= $1 and scorecard_id = any($2) ${only ? 'and contact_id = $3' : ''}
       order by crosses_at limit ${batch} for update skip locked`,
      [new Date(only?.now ?? platform.clock.now()), free, ...(only ? [only.contact] : [])],
    )
    if (due.length === 0) return 0
    const cards = await loadScorecards(tx, free)
    const changes: NewActivity[] = []
    for (const [scorecard, card] of cards) {
      const mine = due.filter((each) => each.scorecard === scorecard)
      const rows = mine.map((each) => rowOf(card, each.contact, each, each.at))
      if (rows.length > 0) await writeScores(tx, scorecard, rows)
      mine.forEach((each, i) => {
        const from = card.bands.find(({ id }) => id === each.band)
        const to = card.bands.find(({ id }) => id === rows[i]?.band)
        if (from && to && from.id !== to.id)
          changes.push(bandChange(card, scorecard, each.contact, [from, to], each.at, 'time'))
      })
    }
    await recordActivities(tx, changes)
    await announce(tx, 'audience')
    return due.length
  })
}
