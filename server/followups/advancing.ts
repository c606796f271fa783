import type { Logger } from 'pino'
import type { Instant } from '../../core/audience/people/activity.ts'
import { advance } from '../../core/followups/advance.ts'
import { indexSteps, type Track } from '../../core/followups/track.ts'
import type { Program } from '../../core/followups/program.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { isPassing } from '../http/problems.ts'
import { applyAdvances } from './applying.ts'
import { claimedColumns, type ClaimedEnrolment, type PlannedAdvance } from './claimedEnrolment.ts'
import { loadFacts } from './facts.ts'
import { Followup } from './models.ts'
import { setAside } from './setAside.ts'

/** Somebody for whom nothing could be worked out. */
interface FailedAdvance {
  claimed: ClaimedEnrolment
  error: unknown
}

/** What `advance` says of each enrolment at the moment that `momentOf` gives; nothing is written. */
export async function planAdvances(
  q: Queries,
  enrolments: readonly ClaimedEnrolment[],
  momentOf: (claimed: ClaimedEnrolment) => Instant,
): Promise<{ planned: PlannedAdvance[]; failed: FailedAdvance[] }> {
  const planned: PlannedAdvance[] = []
  const failed: FailedAdvance[] = []
  if (enrolments.length === 0) return { planned, failed }
  const ids = [...new Set(enrolments.map((each) => each.followup))]
  const followups = await Followup.findAll({ where: { id: ids }, transaction: q.transaction ?? null })
  const programs = new Map<number, { program: Program; track: Track }>(
    followups.map(({ id, program }) => [id, { program, track: indexSteps(program) }]),
  )
  const facts = await loadFacts(
    q,
    followups.map((each) => each.program),
    enrolments.map((each) => each.contact),
  )
  for (const claimed of enrolments) {
    const known = programs.get(claimed.followup)
    const about = facts.get(claimed.contact)
    if (!known || !about) continue
    const at = momentOf(claimed)
    try {
      const own = { ...about, seed: `${claimed.followup} ${claimed.contact}` }
      planned.push({ claimed, at, result: advance(known.program, known.track, claimed, own, at) })
    } catch (error) {
      failed.push({ claimed, error })
    }
  }
  return { planned, failed }
}

/**
 * Advances enrolments and stores what comes of it, all in the transaction of `q`, in a few statements however many
 * they are. Somebody whose step fails is set aside and holds nobody up: when the database refuses a batch, its halves
 * are tried, until it is known whose fault it is.
 * @param now the business's time
 */
export async function advanceEnrolments(
  q: Queries,
  enrolments: readonly ClaimedEnrolment[],
  now: Instant,
  log: Logger,
): Promise<void> {
  if (enrolments.length === 0) return
  try {
    await q.attempt(async () => {
      const { planned, failed } = await planAdvances(q, enrolments, ({ clockAhead }) => now + clockAhead)
      await applyAdvances(q, planned, now)
      for (const { claimed, error } of failed) await setAside(q, claimed, error, now, log)
    })
  } catch (error) {
    if (isPassing(error)) throw error
    const [only] = enrolments
    if (enrolments.length === 1 && only) return setAside(q, only, error, now, log)
    const middle = Math.ceil(enrolments.length / 2)
    await advanceEnrolments(q, enrolments.slice(0, middle), now, log)
    await advanceEnrolments(q, enrolments.slice(middle), now, log)
  }
}

/** People advanced in one transaction. */
const batch = 500
/** Batches under way at once: while the database writes one, the next is thought through. */
const lanes = 2

/** Live follow-ups in which somebody is due, the longest due first. What is paused is not looked into. */
async function dueFollowups(q: Queries, now: Instant, contact: number | null): Promise<number[]> {
  const rows = await q.rows<{ id: number }>(
    `select followup.id from followup
     cross join lateral (select wakes_at from enrolment
       where followup_id = followup.id and ended_at is null and set_aside_at is null and wakes_at <= $1
         ${contact === null ? '' : 'and contact_id = $2'} order by wakes_at limit 1) due
     where followup.state in ('live', 'closing') order by due.wakes_at`,
    contact === null ? [new Date(now)] : [new Date(now), contact],
  )
  return rows.map(({ id }) => id)
}

/**
 * Takes up to a batch of enrolments that are due; other workers take others. People are locked before what is theirs,
 * see `contactById`: whom another has just moved on is seen only then, so that a full batch may be smaller in the end.
 */
async function claimDue(
  q: Queries,
  followup: number,
  now: Instant,
  contact: number | null,
): Promise<{ due: ClaimedEnrolment[]; isFull: boolean }> {
  const due = await q.rows<{ id: number }>(
    `select enrolment.id from enrolment join contact on contact.id = contact_id
     where followup_id = $1 and ended_at is null and set_aside_at is null and wakes_at <= $2
       ${contact === null ? '' : 'and contact_id = $3'}
     order by wakes_at limit ${batch} for no key update of contact skip locked`,
    contact === null ? [followup, new Date(now)] : [followup, new Date(now), contact],
  )
  if (due.length === 0) return { due: [], isFull: false }
  const rows = await q.rows<ClaimedEnrolment>(
    `select ${claimedColumns} from enrolment join contact on contact.id = contact_id
     where enrolment.id = any($1) and ended_at is null and set_aside_at is null and wakes_at <= $2
     order by enrolment.id for update of enrolment`,
    [due.map(({ id }) => id), new Date(now)],
  )
  return { due: rows, isFull: due.length === batch }
}

/**
 * Advances everybody who is due. Batches of one transaction each: a worker killed in the middle loses nothing, and
 * nobody is advanced twice.
 * @returns how many were advanced
 */
export async function advanceDue(platform: Platform, contact: number | null = null): Promise<number> {
  const { database, clock, log } = platform
  let advanced = 0
  for (const followup of await dueFollowups(database, clock.now(), contact)) {
    /** @returns whether there may be more */
    const take = (): Promise<boolean> =>
      database.inTransaction(async (tx) => {
        const now = clock.now()
        const { due, isFull } = await claimDue(tx, followup, now, contact)
        await advanceEnrolments(tx, due, now, log)
        if (due.length > 0) await announce(tx, 'followups', 'email', 'audience')
        advanced += due.length
        return isFull
      })
    const lane = async (): Promise<void> => {
      while (await take());
    }
    await Promise.all(Array.from({ length: contact === null ? lanes : 1 }, lane))
  }
  return advanced
}
