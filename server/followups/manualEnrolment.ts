import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { Followup } from './models.ts'
import { advanceEnrolments } from './advancing.ts'
import { letIn } from './entering.ts'

/** So many are advanced in the transaction that lets them in. */
const mostAtOnce = 500

/**
 * Lets people into a live follow-up by hand; who may not come in (again) is passed over.
 * @throws Problem 409 when the follow-up takes nobody in
 */
export async function enrolManually(
  platform: Platform,
  q: Queries,
  followupId: number,
  contacts: readonly number[],
  by: string,
): Promise<void> {
  const followup = await Followup.findByPk(followupId, { transaction: q.transaction ?? null })
  if (followup?.state !== 'live')
    throw new Problem(409, 'This follow-up is not live', 'Choose a live follow-up, or make this one live.')
  const now = platform.clock.now()
  const entrants = contacts.map((contact) => ({ contact, by }))
  const { enrolments } = await letIn(q, followup, entrants, now)
  // Many are left to the workers, in batches: they stand before the first step, and are due.
  if (enrolments.length <= mostAtOnce) await advanceEnrolments(q, enrolments, now, platform.log)
}
