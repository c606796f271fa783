import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { Followup } from './models.ts'
import { advanceEnrolments } from './advancing.ts'
import { letIn, type TurnedAway } from './entering.ts'
import { rehearsingContact } from './rehearsal.ts'

/** So many are advanced in the transaction that lets them in. */
const mostAtOnce = 500

/**
 * Lets people into a live follow-up by hand; who may not come in (again) is passed over.
 * @returns who was passed over, and why
 * @throws Problem 409 when the follow-up takes nobody in
 */
export async function enrolManually(
  platform: Platform,
  q: Queries,
  followupId: number,
  contacts: readonly number[],
  by: string,
): Promise<TurnedAway[]> {
  const followup = await Followup.findByPk(followupId, { transaction: q.transaction ?? null })
  if (followup?.state !== 'live')
    throw new Problem(409, 'This follow-up is not live', 'Choose a live follow-up, or make this one live.')
  const now = platform.clock.now()
  const entrants = contacts.map((contact) => ({ contact, by }))
  const { enrolments, turnedAway } = await letIn(q, followup, entrants, now)
  // Many are left to the workers, in batches: they stand before the first step, and are due.
  if (enrolments.length <= mostAtOnce) await advanceEnrolments(q, enrolments, now, platform.log)
  return turnedAway
}

/**
 * Lets somebody in rehearsal into a live follow-up by hand.
 * @throws Problem 404; 409 when they may not come in, with the reason
 */
export async function letRehearsingIn(
  platform: Platform,
  contactId: number,
  followup: number,
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await rehearsingContact(tx, contactId, 'change')
    const [refused] = await enrolManually(platform, tx, followup, [contact.id], by)
    if (refused)
      throw new Problem(
        409,
        'They did not come in',
        `This person ${refused.reason}. Start over with them to begin anew.`,
      )
    await announce(tx, 'audience', 'followups', 'email')
  })
}
