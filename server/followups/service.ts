import type { Activity, Instant } from '../../core/audience/activity.ts'
import { enrol } from '../../core/followups/advance.ts'
import { mayEnter, starts } from '../../core/followups/starting.ts'
import { recordActivities } from '../audience/activities.ts'
import { contactById } from '../audience/contacts.ts'
import type { Queries } from '../database/connect.ts'
import type { JobPayload } from '../jobs.ts'
import { announce } from '../live.ts'
import type { Platform } from '../platform.ts'
import { Followup } from './models.ts'
import { moveOn, standingColumns, type Standing } from './moving.ts'

/** People moved on in one transaction. */
const batch = 500

/** Lets a person into every live follow-up that this activity starts: the work of the job `startFollowups`. */
export async function startFollowups(platform: Platform, job: JobPayload<'startFollowups'>): Promise<void> {
  const activity = { kind: job.kind, details: job.details, at: job.at } as Activity
  await platform.database.inTransaction(async (tx) => {
    const live = await Followup.findAll({ where: { state: 'live' }, transaction: tx.transaction ?? null })
    const starting = live.filter(({ program }) => program.startsWhen.some((rule) => starts(rule, activity)))
    if (starting.length === 0) return
    // The lock keeps two starts of one person apart, so that "once" means once.
    const contact = await contactById(tx, job.contact, true)
    const entered: Standing[] = []
    for (const followup of starting) {
      const earlier = await tx.rows<{ ended: boolean }>(
        'select ended_at is not null ended from enrolment where contact_id = $1 and followup_id = $2',
        [contact.id, followup.id],
      )
      if (!mayEnter(followup.program, earlier).allowed) continue
      const enrolment = enrol(followup.program, job.at)
      const stored = await tx.row<{ id: number }>(
        `insert into enrolment (followup_id, contact_id, started_at, step, wakes_at)
         values ($1, $2, $3, $4, $5) returning id`,
        [
          followup.id,
          contact.id,
          new Date(enrolment.startedAt),
          enrolment.step,
          new Date(job.at - contact.clockAhead),
        ],
      )
      if (stored)
        entered.push({
          ...enrolment,
          id: stored.id,
          followup: followup.id,
          contact: contact.id,
          clockAhead: contact.clockAhead,
        })
    }
    await recordActivities(
      tx,
      entered.map((each) => ({
        contact: each.contact,
        kind: 'followupStarted',
        at: job.at,
        details: { followup: each.followup, enrolment: each.id },
      })),
    )
    await moveOn(tx, entered, platform.clock.now())
    if (entered.length > 0) await announce(tx, 'followups', 'email', 'audience')
  })
}

/** Takes up to a batch of enrolments that are due; other workers take others. */
function claimDue(q: Queries, now: Instant, contact?: number): Promise<Standing[]> {
  return q.rows<Standing>(
    `select ${standingColumns}
     from enrolment join contact on contact.id = contact_id join followup on followup.id = followup_id
     where ended_at is null and wakes_at <= $1 and followup.state in ('live', 'closing')
       and ($2::bigint is null or contact_id = $2)
     order by wakes_at limit ${batch} for update of enrolment skip locked`,
    [new Date(now), contact ?? null],
  )
}

/**
 * Moves on everybody who is due. Batches of one transaction each: a worker killed in the middle loses
 * nothing, and nobody is moved twice.
 * @returns how many were moved
 */
export async function advanceDue(platform: Platform, contact?: number): Promise<number> {
  let moved = 0
  for (;;) {
    const taken = await platform.database.inTransaction(async (tx) => {
      const now = platform.clock.now()
      const due = await claimDue(tx, now, contact)
      await moveOn(tx, due, now)
      if (due.length > 0) await announce(tx, 'followups', 'email', 'audience')
      return due.length
    })
    moved += taken
    if (taken < batch) return moved
  }
}
