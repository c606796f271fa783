import { conditionsOf, type Program } from '../../core/followups/program.ts'
import { wakingsOf } from '../../core/followups/wakes.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Queries } from '../database/connect.ts'

/**
 * Wakes whom these activities concern, in the transaction in which they happen: an index leads from each person to
 * the follow-ups that they are inside of, and nobody who waits is asked again and again. On which step somebody stands
 * does not count: a worker may be moving them on to the step that waits for this, and not see it yet. Rows are locked
 * in the order of their ids, as everywhere, and nothing is asked of
 * what stood there before.
 */
export async function wake(q: Queries, activities: readonly NewActivity[]): Promise<void> {
  if (activities.length === 0) return
  await q.rows(
    `with concerned as (
       select enrolment.id, happened.at - contact.clock_ahead * interval '1 millisecond' as at
       from unnest($1::bigint[], $2::text[], $3::jsonb[], $4::timestamptz[]) happened (contact, kind, details, at)
         join waits_for on waits_for.kind = happened.kind and happened.details @> waits_for.details
         join contact on contact.id = happened.contact
         join enrolment on enrolment.contact_id = happened.contact and enrolment.followup_id = waits_for.followup_id
       where enrolment.ended_at is null order by enrolment.id for no key update of enrolment)
     update enrolment set wakes_at = least(enrolment.wakes_at, earliest.at)
     from (select id, min(concerned.at) as at from concerned group by id) earliest
     where enrolment.id = earliest.id`,
    [
      activities.map(({ contact }) => contact),
      activities.map(({ kind }) => kind),
      activities.map(({ details }) => JSON.stringify(details)),
      activities.map(({ at }) => new Date(at)),
    ],
  )
}

/** Writes down what those inside a follow-up wait for, in the transaction in which it goes live or changes. */
export async function writeWakings(q: Queries, followup: number, program: Program): Promise<void> {
  const { segments } = await loadContext(q, conditionsOf(program))
  const wakings = wakingsOf(program, segments)
  await q.rows('delete from waits_for where followup_id = $1', [followup])
  if (wakings.length === 0) return
  await q.rows(
    `insert into waits_for (followup_id, kind, details)
     select $1, kind, details from unnest($2::text[], $3::jsonb[]) t (kind, details)`,
    [followup, wakings.map(({ kind }) => kind), wakings.map(({ details }) => JSON.stringify(details))],
  )
}

/** The same for all that run, after a segment that they may name became another. */
export async function renewWakings(q: Queries): Promise<void> {
  const running = await q.rows<{ id: number; program: Program }>(
    `select id, program from followup where state in ('live', 'paused', 'closing') order by id`,
  )
  for (const { id, program } of running) await writeWakings(q, id, program)
}
