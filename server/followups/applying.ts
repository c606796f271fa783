import type { Instant } from '../../core/audience/people/activity.ts'
import type { Effect } from '../../core/followups/advance.ts'
import { addTags } from '../audience/describing/tags.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import type { ClaimedEnrolment, PlannedAdvance } from './claimedEnrolment.ts'

/** Stores what was worked out for enrolments, in the transaction of `q`: where they stand now, why, and what follows. */
export async function applyAdvances(
  q: Queries,
  planned: readonly PlannedAdvance[],
  now: Instant,
): Promise<void> {
  if (planned.length === 0) return
  await storeEnrolments(q, planned)
  await storeDecisions(q, planned)
  await applyEffects(q, planned, now)
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

type EffectKind = Effect['kind']

/** An effect of one kind, with whose it is and the moment on their clock. */
interface Due<K extends EffectKind> {
  claimed: ClaimedEnrolment
  at: Instant
  effect: Extract<Effect, { kind: K }>
}

async function sendEmails(q: Queries, due: readonly Due<'sendEmail'>[], now: Instant): Promise<void> {
  await q.rows(
    // The unique step of an enrolment makes an email that was decided twice go once.
    `insert into message (email_id, contact_id, enrolment_id, step, purpose, topic_id, queued_at, due_at)
     select email.id, m.contact, m.enrolment, m.step, email.purpose, email.topic_id, $5, $5
     from unnest($1::bigint[], $2::bigint[], $3::bigint[], $4::text[]) m (email, contact, enrolment, step)
     join email on email.id = m.email
     on conflict (enrolment_id, step) do nothing`,
    [
      due.map(({ effect }) => effect.email),
      due.map(({ claimed }) => claimed.contact),
      due.map(({ claimed }) => claimed.id),
      due.map(({ effect }) => effect.step),
      new Date(now),
    ],
  )
}

const putTags = (q: Queries, due: readonly Due<'addTag'>[]): Promise<void> =>
  addTags(
    q,
    due.map(({ claimed, at, effect }) => ({ contact: claimed.contact, tag: effect.tag, at })),
    'follow-up',
  )

/** How each kind of effect is applied, to all who are due at once. */
const appliers: {
  readonly [K in EffectKind]: (q: Queries, due: readonly Due<K>[], now: Instant) => Promise<void>
} = { sendEmail: sendEmails, addTag: putTags }

async function applyEffects(q: Queries, planned: readonly PlannedAdvance[], now: Instant): Promise<void> {
  const all = planned.flatMap(({ claimed, at, result }) =>
    result.effects.map((effect) => ({ claimed, at, effect })),
  )
  const dueOf = <K extends EffectKind>(kind: K): Due<K>[] =>
    all.filter((each): each is Due<K> => each.effect.kind === kind)
  const apply = async <K extends EffectKind>(kind: K, due: readonly Due<K>[]): Promise<void> => {
    if (due.length > 0) await appliers[kind](q, due, now)
  }
  for (const kind of Object.keys(appliers) as EffectKind[]) await apply(kind, dueOf(kind))
}
