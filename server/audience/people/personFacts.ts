import type { ActivityDetails, ActivityKind, Source } from '../../../core/audience/people/activity.ts'
import {
  leavesOf,
  type BuiltInField,
  type Condition,
  type Leaf,
} from '../../../core/audience/segments/condition.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
import type { MarketingState } from '../../../core/audience/people/permission.ts'
import type { Person } from '../../../core/audience/people/person.ts'
import type { StoredScore } from '../../../core/audience/scores/score.ts'
import type { Queries } from '../../database/connect.ts'

/** Somebody with what is no fact that questions are about. */
export interface LoadedPerson extends Person {
  rehearsal: boolean
  /** Milliseconds by which their own clock is ahead of the business's. */
  clockAhead: number
}

interface PersonRow {
  id: number
  rehearsal: boolean
  clockAhead: number
  marketing: MarketingState
  builtIn: Record<BuiltInField, string | null>
  fields: Record<number, FieldValue>
  source: Source
  createdAt: number
  pausedUntil: number | null
  tags: number[]
  topics: number[]
  agreedTo: number[]
  activities: { kind: ActivityKind; at: number; details: ActivityDetails }[]
  scores: (StoredScore & { scorecard: number })[]
  enrolments: { followup: number; ended: boolean }[]
  deadlines: { offer: string; endsAt: number }[]
}

const milliseconds = (column: string): string => `floor(date_part('epoch', ${column}) * 1000)`

/** The kinds of activity that these conditions ask about, in the segments that they name too. */
export function activityKindsIn(
  trees: readonly Condition[],
  segments: Readonly<Record<number, Condition>>,
): ActivityKind[] {
  const seen = new Set<number>()
  const kindsOf = (tree: Condition): ActivityKind[] =>
    leavesOf(tree).flatMap((leaf) => {
      if (leaf.kind === 'did') return [leaf.activity]
      const inner = leaf.kind === 'segment' && !seen.has(leaf.segment) ? segments[leaf.segment] : undefined
      if (leaf.kind === 'segment') seen.add(leaf.segment)
      return inner ? kindsOf(inner) : []
    })
  return [...new Set(trees.flatMap(kindsOf))]
}

/**
 * What is known of people beyond their own row, each from a table of its own, read for all of them at once: asked
 * person by person, it is the partitions of activities that take time (180 ms for 475 people, at once 17).
 */
const personParts = {
  tags: 'select contact_id, json_agg(tag_id) known from contact_tag where contact_id = any($1) group by 1',
  topics: `select contact_id, json_agg(topic_id) known from contact_topic
    where contact_id = any($1) and agreed group by 1`,
  agreedTo: `select contact_id, json_agg(distinct wording_id) known from consent
    where contact_id = any($1) and wording_id is not null group by 1`,
  activities: `select contact_id, json_agg(json_build_object('kind', kind, 'details', details,
      'at', ${milliseconds('at')}) order by at, id) known
    from activity where contact_id = any($1) and kind = any($2) group by 1`,
  scores: `select contact_id, json_agg(json_build_object('scorecard', scorecard_id, 'steady', steady,
      'fading', fading, 'asOf', ${milliseconds('as_of')})) known
    from contact_score where contact_id = any($1) group by 1`,
  enrolments: `select contact_id, json_agg(json_build_object('followup', followup_id,
      'ended', ended_at is not null)) known
    from enrolment where contact_id = any($1) group by 1`,
  deadlines: `select contact_id, json_agg(json_build_object('offer', offer, 'endsAt', ${milliseconds('ends_at')})) known
    from personal_deadline where contact_id = any($1) group by 1`,
} as const
export type PersonPart = keyof typeof personParts
const allParts = Object.keys(personParts) as PersonPart[]

/** What a question rests on, beyond a person's own row; those of a segment are its own questions. */
const partOf: Readonly<Record<Leaf['kind'], PersonPart | null>> = {
  did: 'activities',
  hasTag: 'tags',
  field: null,
  topic: 'topics',
  state: null,
  score: 'scores',
  band: 'scores',
  segment: null,
  source: null,
  created: null,
  agreedTo: 'agreedTo',
  followup: 'enrolments',
  deadline: 'deadlines',
}

/** What these conditions, and the segments among them, rest on. */
export function partsAskedBy(
  trees: readonly Condition[],
  segments: Readonly<Record<number, Condition>>,
): Set<PersonPart> {
  const leaves = [...trees, ...Object.values(segments)].flatMap(leavesOf)
  return new Set(leaves.flatMap(({ kind }) => partOf[kind] ?? []))
}

/**
 * What is known of people, for many of them in one statement.
 * @param kinds the kinds of activity that will be asked about: no other is read
 * @param parts what will be looked at: of 500 people, all of it takes about ten times as long as their own rows
 * @returns people by contact id
 */
export async function loadPeople(
  q: Pick<Queries, 'rows'>,
  contacts: readonly number[],
  kinds: readonly ActivityKind[],
  parts: ReadonlySet<PersonPart> = new Set(allParts),
): Promise<Map<number, LoadedPerson>> {
  const read = allParts.filter((part) => parts.has(part))
  const columns = allParts.map((part) =>
    parts.has(part) ? `coalesce("${part}".known, '[]') "${part}"` : `'[]'::json "${part}"`,
  )
  const rows = await q.rows<PersonRow>(
    `select id, rehearsal, clock_ahead "clockAhead", marketing_state marketing, fields, source, ${milliseconds('created_at')} "createdAt",
       ${milliseconds('paused_until')} "pausedUntil",
       json_build_object('address', address, 'firstName', first_name, 'lastName', last_name, 'phone', phone,
         'country', country, 'language', language, 'zone', zone) "builtIn",
       ${columns.join(', ')}
     from contact
     ${read.map((part) => `left join (${personParts[part]}) "${part}" on "${part}".contact_id = contact.id`).join('\n')}
     where id = any($1)`,
    parts.has('activities') ? [contacts, kinds] : [contacts],
  )
  return new Map(
    rows.map(({ id, builtIn, tags, topics, agreedTo, scores, deadlines, ...known }) => [
      id,
      {
        ...known,
        builtIn: Object.fromEntries(Object.entries(builtIn).filter(([, value]) => value)),
        tags: new Set(tags),
        topics: new Set(topics),
        agreedTo: new Set(agreedTo),
        scores: new Map(scores.map(({ scorecard, ...score }) => [scorecard, score])),
        deadlines: Object.fromEntries(deadlines.map(({ offer, endsAt }) => [offer, endsAt])),
      },
    ]),
  )
}
