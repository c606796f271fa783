import type { Activity } from '../../core/audience/people/activity.ts'
import { nameOf } from '../../core/audience/segments/names.ts'
import { openingSends, starts } from '../../core/followups/starting.ts'
import { survivorOf, type Contact } from '../audience/people/contacts.ts'
import { loadNames } from '../audience/segments/names.ts'
import type { Queries } from '../database/connect.ts'
import type { JobPayload } from '../work/jobs.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { advanceEnrolments } from './advancing.ts'
import type { ClaimedEnrolment } from './claimedEnrolment.ts'
import { letIn } from './entering.ts'
import { Followup } from './models.ts'

type StartJob = JobPayload<'startFollowups'>

/**
 * Sends once more what a form asks for to somebody who does not come in again: they lost the email, or it never
 * arrived. What it says stands with the way through the follow-up that they had.
 */
async function deliverAgain(
  q: Queries,
  followup: Followup,
  contact: Contact,
  enrolment: number,
  job: StartJob,
  now: Date,
): Promise<void> {
  const sends = openingSends(followup.program)
  if (sends.length === 0) return
  const queued = await q.rows<{ email: number }>(
    `insert into message (email_id, contact_id, enrolment_id, purpose, topic_id, asked_by, queued_at, due_at)
     select email.id, $2, $3, email.purpose, email.topic_id, $4, $5, $5 from email where id = any($1)
     on conflict (asked_by, email_id) where asked_by is not null do nothing returning email_id email`,
    [sends.map(({ email }) => email), contact.id, enrolment, job.activity, now],
  )
  const names = await loadNames(
    q,
    queued.map(({ email }) => ({ kind: 'emails', id: email })),
  )
  await q.rows(
    `insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
     select $1, $2, step, 'sent', reason, $3 from unnest($4::text[], $5::text[]) t (step, reason)`,
    [
      enrolment,
      contact.id,
      new Date(job.at),
      queued.map(({ email }) => sends.find((send) => send.email === email)?.id ?? ''),
      queued.map(({ email }) => `${nameOf(names, 'emails', email)}: asked for once more by the form`),
    ],
  )
}

/** The follow-ups that a form starts by what it says itself. */
async function namedByForm(q: Queries, activity: Activity): Promise<number[]> {
  if (activity.kind !== 'formSent' || !('form' in activity.details)) return []
  const rows = await q.rows<{ followup: number }>(
    `select (action->>'followup')::bigint followup
     from form join form_version on form_id = id and number = published_version
     cross join lateral jsonb_path_query(content, '$.actions[*] ? (@.does == "startFollowup")') action
     where form.id = $1 and jsonb_typeof(action->'followup') = 'number'`,
    [activity.details.form],
  )
  return rows.map(({ followup }) => followup)
}

/** Lets a person into every live follow-up that this activity starts: the work of the job `startFollowups`. */
export async function startFollowups(platform: Platform, job: StartJob): Promise<void> {
  const activity = { kind: job.kind, details: job.details, at: job.at } as Activity
  await platform.database.inTransaction(async (tx) => {
    const live = await Followup.findAll({ where: { state: 'live' }, transaction: tx.transaction ?? null })
    const named = await namedByForm(tx, activity)
    const starting = live.filter(
      ({ id, program }) => named.includes(id) || program.startsWhen.some((rule) => starts(rule, activity)),
    )
    if (starting.length === 0) return
    // The lock keeps two starts of one person apart, so that "once" means once.
    const contact = await survivorOf(tx, job.contact, 'change')
    if (!contact) return
    const now = platform.clock.now()
    const session = 'session' in job.details ? Number(job.details.session) : null
    const entered: ClaimedEnrolment[] = []
    for (const followup of starting) {
      const entrant = { contact: contact.id, activity: job.activity, at: job.at, session }
      const { enrolments } = await letIn(tx, followup, [entrant], now)
      entered.push(...enrolments)
      if (enrolments.length > 0 || activity.kind !== 'formSent') continue
      const last = await tx.row<{ id: number; activity: number | null }>(
        `select id, activity_id activity from enrolment where contact_id = $1 and followup_id = $2
         order by activity_id = $3 desc nulls last, id desc limit 1`,
        [contact.id, followup.id, job.activity],
      )
      // Where this activity let them in, the job ran before, and was not struck off.
      if (last && last.activity !== job.activity)
        await deliverAgain(tx, followup, contact, last.id, job, new Date(now))
    }
    await advanceEnrolments(tx, entered, now, platform.log)
    await announce(tx, 'followups', 'email', 'audience')
  })
}
