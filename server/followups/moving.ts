import type { Instant } from '../../core/audience/activity.ts'
import { advance, type Advance, type Enrolment } from '../../core/followups/advance.ts'
import { layTrack, type Track } from '../../core/followups/track.ts'
import type { Program } from '../../core/followups/program.ts'
import { recordActivities } from '../audience/activities.ts'
import { addTags } from '../audience/tags.ts'
import type { Queries } from '../database/connect.ts'
import { queueJobs } from '../jobs.ts'
import { loadFacts } from './facts.ts'
import { Followup } from './models.ts'

/** An enrolment with whose it is; `clockAhead` in milliseconds. */
export interface Standing extends Enrolment {
  id: number
  followup: number
  contact: number
  clockAhead: number
}

/** Columns of an enrolment as `Standing`, with times as milliseconds. */
export const standingColumns = `enrolment.id, followup_id followup, contact_id contact, step,
  contact.clock_ahead "clockAhead",
  floor(extract(epoch from started_at) * 1000)::bigint "startedAt",
  floor(extract(epoch from due_at) * 1000)::bigint "dueAt"`

interface Moved {
  standing: Standing
  at: Instant
  result: Advance
}

/** What `advance` says of each enrolment at the moment that `momentOf` gives; nothing is written. */
export async function lookAhead(
  q: Queries,
  standings: readonly Standing[],
  momentOf: (standing: Standing) => Instant,
): Promise<Moved[]> {
  if (standings.length === 0) return []
  const ids = [...new Set(standings.map((each) => each.followup))]
  const followups = await Followup.findAll({ where: { id: ids }, transaction: q.transaction ?? null })
  const programs = new Map<number, { program: Program; track: Track }>(
    followups.map(({ id, program }) => [id, { program, track: layTrack(program) }]),
  )
  const facts = await loadFacts(
    q,
    followups.map((each) => each.program),
    standings.map((each) => each.contact),
  )
  return standings.flatMap((standing) => {
    const known = programs.get(standing.followup)
    const about = facts.get(standing.contact)
    if (!known || !about) return []
    const at = momentOf(standing)
    return [{ standing, at, result: advance(known.program, known.track, standing, about, at) }]
  })
}

/**
 * Moves enrolments on and stores what comes of it, all in the transaction of `q`, in a few statements
 * however many they are.
 * @param now the business's time
 */
export async function moveOn(q: Queries, standings: readonly Standing[], now: Instant): Promise<void> {
  const moved = await lookAhead(q, standings, (standing) => now + standing.clockAhead)
  if (moved.length === 0) return
  await storeEnrolments(q, moved)
  await storeDecisions(q, moved)
  await carryOut(q, moved, now)
}

const date = (at: Instant | null): Date | null => (at === null ? null : new Date(at))

async function storeEnrolments(q: Queries, moved: readonly Moved[]): Promise<void> {
  await q.rows(
    `update enrolment set step = m.step, due_at = m.due_at, wakes_at = m.wakes_at, ended_at = m.ended_at
     from unnest($1::bigint[], $2::text[], $3::timestamptz[], $4::timestamptz[], $5::timestamptz[])
       m (id, step, due_at, wakes_at, ended_at)
     where enrolment.id = m.id`,
    [
      moved.map(({ standing }) => standing.id),
      moved.map(({ result }) => result.enrolment.step),
      moved.map(({ result }) => date(result.enrolment.dueAt)),
      moved.map(({ result, standing }) =>
        date(result.enrolment.dueAt === null ? null : result.enrolment.dueAt - standing.clockAhead),
      ),
      moved.map(({ result, at }) => (result.enrolment.step === null ? new Date(at) : null)),
    ],
  )
  await recordActivities(
    q,
    moved
      .filter(({ result }) => result.enrolment.step === null)
      .map(({ standing, at }) => ({
        contact: standing.contact,
        kind: 'followupEnded',
        at,
        details: { followup: standing.followup, enrolment: standing.id },
      })),
  )
}

async function storeDecisions(q: Queries, moved: readonly Moved[]): Promise<void> {
  const lines = moved.flatMap(({ standing, result }) =>
    result.decisions.map((decision) => ({ ...decision, enrolment: standing.id, contact: standing.contact })),
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

async function carryOut(q: Queries, moved: readonly Moved[], now: Instant): Promise<void> {
  const effects = moved.flatMap(({ standing, at, result }) =>
    result.effects.map((effect) => ({ standing, at, effect })),
  )
  const mails = effects.flatMap(({ standing, effect }) =>
    effect.kind === 'sendEmail' ? [{ standing, effect }] : [],
  )
  if (mails.length > 0) {
    const queued = await q.rows<{ id: number }>(
      // The unique step of an enrolment makes an email that was decided twice go once.
      `insert into message (email_id, contact_id, enrolment_id, step, purpose, queued_at)
       select email.id, m.contact, m.enrolment, m.step, email.purpose, $5
       from unnest($1::bigint[], $2::bigint[], $3::bigint[], $4::text[]) m (email, contact, enrolment, step)
       join email on email.id = m.email
       on conflict (enrolment_id, step) do nothing
       returning id`,
      [
        mails.map(({ effect }) => effect.email),
        mails.map(({ standing }) => standing.contact),
        mails.map(({ standing }) => standing.id),
        mails.map(({ effect }) => effect.step),
        new Date(now),
      ],
    )
    await queueJobs(
      q,
      'sendMessage',
      queued.map(({ id }) => ({ message: id })),
    )
  }
  const tags = effects.flatMap(({ standing, at, effect }) =>
    effect.kind === 'addTag' ? [{ contact: standing.contact, tag: effect.tag, at }] : [],
  )
  await addTags(q, tags, 'follow-up')
}
