import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import type { PlannedAdvance } from './claimedEnrolment.ts'
import { applyEffects } from './effects.ts'

/** Stores what was worked out for enrolments, in the transaction of `q`: where they stand now, why, and what follows. */
export async function applyAdvances(
  q: Queries,
  planned: readonly PlannedAdvance[],
  now: Instant,
): Promise<void> {
  if (planned.length === 0) return
  await storeEnrolments(q, planned)
  await storeDecisions(q, planned)
  const effects = planned.flatMap(({ claimed, at, result }) =>
    result.effects.map((effect) => ({ claimed, at, effect })),
  )
  await applyEffects(q, effects, now)
}

const date = (at: Instant | null): Date | null => (at === null ? null : new Date(at))

async function storeEnrolments(q: Queries, planned: readonly PlannedAdvance[]): Promise<void> {
  await q.rows(
    `update enrolment set step = m.step, due_at = m.due_at, wakes_at = m.wakes_at, ended_at = m.ended_at
     from unnest($1::bigint[], $2::text[], $3::timestamptz[], $4::timestamptz[], $5::timestamptz[])
       m (id, step, due_at, wakes_at, ended_at)
     where enrolment.id = m.id`,
    [
      planned.map(({ claimed }) => claimed.id),
      planned.map(({ result }) => result.enrolment.step),
      planned.map(({ result }) => date(result.enrolment.dueAt)),
      planned.map(({ result, claimed }) =>
        date(result.enrolment.dueAt === null ? null : result.enrolment.dueAt - claimed.clockAhead),
      ),
      planned.map(({ result, at }) => (result.enrolment.step === null ? new Date(at) : null)),
    ],
  )
  await recordActivities(
    q,
    planned
      .filter(({ result }) => result.enrolment.step === null)
      .map(({ claimed, at }) => ({
        contact: claimed.contact,
        kind: 'followupEnded',
        at,
        details: { followup: claimed.followup, enrolment: claimed.id },
      })),
  )
}

async function storeDecisions(q: Queries, planned: readonly PlannedAdvance[]): Promise<void> {
  const lines = planned.flatMap(({ claimed, result }) =>
    result.decisions.map((decision) => ({ ...decision, enrolment: claimed.id, contact: claimed.contact })),
  )
  await q.rows(
    `insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
     select * from unnest($1::bigint[], $2::bigint[], $3::text[], $4::text[], $5::text[], $6::timestamptz[])`,
    [
      lines.map((line) => line.enrolment),
      lines.map((line) => line.contact),
      lines.map((line) => line.step),
      lines.map((line) => line.outcome),
      lines.map((line) => line.reason),
      lines.map((line) => new Date(line.at)),
    ],
  )
}
