import type { Platform } from '../platform.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import { followupDrafts } from './followupDrafts.ts'

/** Deletes a follow-up that nobody was ever in; others are archived, since what people got from them stays. @throws Problem 404, 409 */
export async function deleteFollowup({ database }: Platform, id: number): Promise<void> {
  await database.inTransaction(async (tx) => {
    const { name } = await followupDrafts.thing(tx, id)
    if (await tx.row('select from enrolment where followup_id = $1 limit 1', [id]))
      throw new Problem(
        409,
        `People have been in “${name}”`,
        'Archive it instead: what they got, and why, stays in their journals.',
      )
    await tx.rows('delete from followup where id = $1', [id])
    await announce(tx, 'followups')
  })
}
