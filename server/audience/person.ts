import type { PersonScore, PersonView } from '../../contract/audience.ts'
import type { Instant } from '../../core/audience/activity.ts'
import { evaluate, type Asking } from '../../core/audience/evaluate.ts'
import { hasDetails } from '../../core/audience/activity.ts'
import type { FieldValue } from '../../core/audience/field.ts'
import type { Person } from '../../core/audience/person.ts'
import { adderOf, nextCrossing, noScore, scoreAt } from '../../core/audience/score.ts'
import {
  bandOf,
  conditionsOfCard,
  halfLivesOf,
  referencesOfCard,
  type Scorecard,
} from '../../core/audience/scorecard.ts'
import { tellActivity, tellCondition } from '../../core/audience/telling.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../problems.ts'
import { loadContext } from './context.ts'
import { personNow } from './contacts.ts'
import { dayNumbers } from './dayNumbers.ts'
import { journalOf } from './journal.ts'
import { loadPeople } from './knowledge.ts'
import { contactRowColumns, viewContactRow, type Row } from './people.ts'
import { kindsScored, loadScorecards } from './scoring.ts'

/** A score taken apart: each rule by itself, as much as it is worth now. */
function reasonsOf(
  card: Scorecard,
  person: Person,
  asking: Asking,
  dayOf: (at: Instant) => number,
): PersonScore['reasons'] {
  const behaviours = card.behaviours.map((rule) => {
    const hits = person.activities
      .filter(
        (each) => each.kind === rule.activity && each.at <= asking.now && hasDetails(each, rule.details),
      )
      .map(({ at }) => ({ rule: 0, at }))
    const alone = { ...card, behaviours: [rule] }
    return {
      what: tellActivity(rule.activity, rule.details, asking.names),
      times: hits.length,
      points: scoreAt(adderOf(alone, dayOf)(hits), halfLivesOf(alone), asking.now),
    }
  })
  const profile = card.profile
    .filter(({ when }) => evaluate(when, person, asking).holds === true)
    .map(({ when, points }) => ({
      what: tellCondition(when, asking.names, asking.scorecards),
      times: 1,
      points,
    }))
  return [...behaviours, ...profile]
    .filter(({ times }) => times > 0)
    .sort((a, b) => Math.abs(b.points) - Math.abs(a.points))
}

async function scoresOf(q: Queries, contact: number, now: Instant): Promise<PersonScore[]> {
  const cards = await loadScorecards(q)
  const all = [...cards.values()]
  const context = await loadContext(q, all.flatMap(conditionsOfCard), [
    ...all.flatMap(referencesOfCard),
    ...[...cards.keys()].map((id) => ({ kind: 'scorecards' as const, id })),
  ])
  const asking: Asking = { ...context, now }
  const dayOf = dayNumbers(asking.zone)
  const kinds = all.flatMap((card) => kindsScored(card, asking))
  const person = (await loadPeople(q, [contact], kinds)).get(contact)
  if (!person) return []
  return [...cards].map(([id, card]) => {
    const stored = person.scores.get(id) ?? noScore
    const score = scoreAt(stored, halfLivesOf(card), asking.now)
    const crossing = nextCrossing(card, stored, asking.now)
    return {
      scorecard: { id, name: asking.names.scorecards[id] ?? '' },
      score,
      band: bandOf(card, score).name,
      crossing: crossing && { at: new Date(crossing.at).toISOString(), band: crossing.band.name },
      reasons: reasonsOf(card, person, asking, dayOf),
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
  const [consents, journal, scores] = await Promise.all([
    q.rows<{ at: Date; given: boolean; wording: string; source: string }>(
      'select at, given, wording, source from consent where contact_id = $1 order by at desc, id desc',
      [id],
    ),
    journalOf(q, id),
    scoresOf(q, id, now),
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
    now: new Date(now).toISOString(),
    consents: consents.map((entry) => ({ ...entry, at: entry.at.toISOString() })),
    journal,
  }
}
