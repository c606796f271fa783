import { conditionsOf, type Program } from '../../core/followups/program.ts'
import { wakingsOf } from '../../core/followups/wakes.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Queries } from '../database/connect.ts'

/**
 * Wakes whom these activities concern, in the transaction in which they happen: an index leads from each person to
 * where they stand, and nobody who waits is asked again and again.
 */
export async function wake(q: Queries, activities: readonly NewActivity[]): Promise<void> {
  if (activities.length === 0) return
  await q.rows(
    `update enrolment set wakes_at = happened.at - contact.clock_ahead * interval '1 millisecond'
     from unnest($1::bigint[], $2::text[], $3::jsonb[], $4::timestamptz[]) happened (contact, kind, details, at)
       join waits_for on waits_for.kind = happened.kind and happened.details @> waits_for.details
       join contact on contact.id = happened.contact
     where enrolment.contact_id = happened.contact and enrolment.followup_id = waits_for.followup_id
       and enrolment.ended_at is null and (waits_for.step is null or waits_for.step = enrolment.step)
       and enrolment.wakes_at > happened.at - contact.clock_ahead * interval '1 millisecond'`,
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
    `insert into waits_for (followup_id, step, kind, details)
     select $1, step, kind, details from unnest($2::text[], $3::text[], $4::jsonb[]) t (step, kind, details)`,
    [
      followup,
      wakings.map(({ step }) => step),
      wakings.map(({ kind }) => kind),
      wakings.map(({ details }) => JSON.stringify(details)),
    ],
  )
}

/** The same for all that run, after a segment that they may name became another. */
export async function renewWakings(q: Queries): Promise<void> {
  const running = await q.rows<{ id: number; program: Program }>(
    `select id, program from followup where state in ('live', 'paused', 'closing') order by id`,
  )
  for (const { id, program } of running) await writeWakings(q, id, program)
}
