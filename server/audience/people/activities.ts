import { activityTraits } from '../../../core/audience/people/activityTraits.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { isTrigger, type StartRule } from '../../../core/followups/start.ts'
import { awaitedBy } from '../../../core/followups/trigger.ts'
import type { Queries } from '../../database/connect.ts'
import { wake } from '../../followups/waking.ts'
import type { NewActivity } from './newActivity.ts'
import { queueAll, type NewJob } from '../../work/jobs.ts'
import { scoringAfter } from '../scores/scoreJobs.ts'

/** Programs ask twice, and people press twice: the same within a minute is one thing done. */
const repeatedWithin = 60_000

/** Did this person do the very same within the last minute? */
export async function hasJustDone(q: Queries, { contact, kind, at, details }: NewActivity): Promise<boolean> {
  const found = await q.row(
    `select from activity where contact_id = $1 and kind = $2 and details = $3::jsonb and at > $4 and at <= $5 limit 1`,
    [contact, kind, JSON.stringify(details), new Date(at - repeatedWithin), new Date(at)],
  )
  return found !== undefined
}

interface Listening {
  /** The kinds of activity that start a follow-up now; forms can name some by themselves. */
  starting: ReadonlySet<string>
  /** Those that somebody inside one waits for. */
  waking: ReadonlySet<string>
  cards: Scorecard[]
}

/** What in this install waits for people to do something. */
async function whoListens(q: Queries): Promise<Listening> {
  const found = await q.row<{ rules: StartRule[]; waking: string[]; cards: Scorecard[] }>(
    `select (select coalesce(json_agg(distinct rule), '[]')
         from followup, jsonb_array_elements(program->'startsWhen') rule where state = 'live') rules,
       (select coalesce(json_agg(distinct kind), '[]') from waits_for) waking,
       (select coalesce(json_agg(card), '[]') from scorecard) cards`,
  )
  const starting = (found?.rules ?? []).flatMap((rule) => (isTrigger(rule) ? [awaitedBy(rule).kind] : []))
  return {
    starting: new Set(['formSent', ...starting]),
    waking: new Set(found?.waking),
    cards: found?.cards ?? [],
  }
}

/**
 * Writes down what happened, in the transaction in which it happened, together with the jobs that look
 * whether a follow-up starts by it.
 * @param besides jobs that begin with these, in the same statement
 */
export async function recordActivities(
  q: Queries,
  activities: readonly NewActivity[],
  besides: readonly NewJob[] = [],
): Promise<void> {
  if (activities.length === 0) {
    await queueAll(q, besides)
    return
  }
  const stored = await q.rows<{ id: number }>(
    // Rows are inserted, and their ids come back, in the order of the arrays.
    `insert into activity (contact_id, kind, details, at)
     select contact_id, kind, details, at
     from unnest($1::bigint[], $2::text[], $3::jsonb[], $4::timestamptz[]) with ordinality
       t (contact_id, kind, details, at, n) order by n returning id`,
    [
      activities.map((each) => each.contact),
      activities.map((each) => each.kind),
      activities.map((each) => JSON.stringify(each.details)),
      activities.map((each) => new Date(each.at)),
    ],
  )
  const { starting, waking, cards } = await whoListens(q)
  await wake(
    q,
    activities.filter(({ kind }) => waking.has(kind)),
  )
  const looking = activities.flatMap(({ contact, kind, details, at }, i): NewJob[] => {
    const activity = stored[i]?.id
    return activityTraits[kind].startsFollowups && starting.has(kind) && activity !== undefined
      ? [{ name: 'startFollowups', payload: { contact, activity, kind, details, at } }]
      : []
  })
  await queueAll(q, [...looking, ...scoringAfter(cards, activities), ...besides])
}
