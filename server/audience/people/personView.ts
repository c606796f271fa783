import type { PersonScore, PersonView } from '../../../contract/audience/people.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { moneyOfPerson } from '../../commerce/moneyIn.ts'
import { evaluate, type EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import { matchesDetails } from '../../../core/audience/people/activity.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
import type { Person } from '../../../core/audience/people/person.ts'
import { createScoreAdder, nextCrossing, noScore, scoreAt } from '../../../core/audience/scores/score.ts'
import {
  bandOf,
  conditionsOfCard,
  halfLivesOf,
  referencesOfCard,
  type Scorecard,
} from '../../../core/audience/scores/scorecard.ts'
import { describeActivity, describeCondition } from '../../../core/audience/segments/describe.ts'
import type { Queries } from '../../database/connect.ts'
import type { Platform } from '../../platform.ts'
import { notFound } from '../../http/problems.ts'
import { loadContext } from '../segments/evaluationContext.ts'
import { consentLedger } from './consentLedger.ts'
import { personNow } from './contacts.ts'
import { dayNumbers } from '../scores/dayNumbers.ts'
import { journalOf } from './journal.ts'
import { loadPeople } from './personFacts.ts'
import { contactRowColumns, viewContactRow, type Row } from './contactList.ts'
import { kindsScored, loadScorecards, pointsGiven } from '../scores/scoring.ts'

/** A score taken apart: each rule by itself, as much as it is worth now. */
function reasonsOf(
  scorecard: number,
  card: Scorecard,
  person: Person,
  context: EvaluationContext,
  dayOf: (at: Instant) => number,
): PersonScore['reasons'] {
  const behaviours = card.behaviours.map((rule) => {
    const hits = person.activities
      .filter(
        (each) => each.kind === rule.activity && each.at <= context.now && matchesDetails(each, rule.details),
      )
      .map(({ at }) => ({ rule: 0, at }))
    const alone = { ...card, behaviours: [rule] }
    return {
      what: describeActivity(rule.activity, rule.details, context.names),
      times: hits.length,
      points: scoreAt(createScoreAdder(alone, dayOf)(hits), halfLivesOf(alone), context.now),
    }
  })
  const profile = card.profile
    .filter(({ when }) => evaluate(when, person, context).holds === true)
    .map(({ when, points }) => ({
      what: describeCondition(when, context.names, context.scorecards),
      times: 1,
      points,
    }))
  const given = { what: 'given by follow-ups', times: 1, points: pointsGiven(scorecard, person, context.now) }
  return [...behaviours, ...profile, ...(given.points === 0 ? [] : [given])]
    .filter(({ times }) => times > 0)
    .sort((a, b) => Math.abs(b.points) - Math.abs(a.points))
}

async function scoresOf(q: Queries, contact: number, now: Instant): Promise<PersonScore[]> {
  const cards = await loadScorecards(q)
  const all = [...cards.values()]
  const base = await loadContext(q, all.flatMap(conditionsOfCard), [
    ...all.flatMap(referencesOfCard),
    ...[...cards.keys()].map((id) => ({ kind: 'scorecards' as const, id })),
  ])
  const context: EvaluationContext = { ...base, now }
  const dayOf = dayNumbers(context.zone)
  const kinds = all.flatMap((card) => kindsScored(card, context))
  const person = (await loadPeople(q, [contact], kinds)).get(contact)
  if (!person) return []
  return [...cards].map(([id, card]) => {
    const stored = person.scores.get(id) ?? noScore
    const score = scoreAt(stored, halfLivesOf(card), context.now)
    const crossing = nextCrossing(card, stored, context.now)
    return {
      scorecard: { id, name: context.names.scorecards[id] ?? '' },
      score,
      band: bandOf(card, score).name,
      crossing: crossing && { at: new Date(crossing.at).toISOString(), band: crossing.band.name },
      reasons: reasonsOf(id, card, person, context, dayOf),
    }
  })
}

type FullRow = Row & {
  zone: string | null
  phone: string | null
  language: string | null
  source: Record<string, string>
  fields: Record<string, FieldValue>
  paused_until: Date | null
  clock_ahead: number
  other_addresses: string[]
  topics: { id: number; name: string }[]
}

/** Who one person is, and what happened. @throws Problem 404 */
export async function viewPerson(platform: Platform, id: number): Promise<PersonView> {
  const q = platform.database
  const row = await q.row<FullRow>(
    `select ${contactRowColumns}, c.zone, c.phone, c.language, c.source, c.fields, c.paused_until, c.clock_ahead,
       array(select address from other_address where contact_id = c.id order by at) other_addresses,
       coalesce((select json_agg(json_build_object('id', topic.id, 'name', topic.name) order by topic.name)
         from contact_topic join topic on topic.id = topic_id where contact_id = c.id and agreed), '[]') topics
     from contact c where id = $1`,
    [id],
  )
  if (!row) throw notFound('This person')
  const now = personNow(platform.clock, { clockAhead: row.clock_ahead })
  const [consents, journal, scores, money] = await Promise.all([
    consentLedger(q, id),
    journalOf(q, id),
    scoresOf(q, id, now),
    moneyOfPerson(q, id),
  ])
  return {
    ...viewContactRow(row),
    firstName: row.first_name,
    lastName: row.last_name,
    zone: row.zone,
    phone: row.phone,
    language: row.language,
    source: row.source,
    fields: row.fields,
    pausedUntil: row.paused_until?.toISOString() ?? null,
    otherAddresses: row.other_addresses,
    topics: row.topics,
    scores,
    money: money.orders > 0 ? money : null,
    now: new Date(now).toISOString(),
    consents,
    journal,
  }
}
