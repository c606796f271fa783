import { forgetBuyer } from '../../commerce/forgetting.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { addressKeysOf, contactById } from './contacts.ts'
import { addressHash, suppress } from './suppression.ts'

/** Deletes every row that is about a person, in the transaction of `q`. */
export async function deleteContact(q: Queries, id: number): Promise<void> {
  // Journal and scores have no foreign key to people, for the sake of their size; all else goes with the contact.
  await q.rows('delete from contact_score where contact_id = $1', [id])
  await q.rows('delete from activity where contact_id = $1', [id])
  await q.rows('delete from decision where contact_id = $1', [id])
  await forgetBuyer(q, id)
  await q.rows('delete from contact where id = $1', [id])
}

/**
 * Erases a person: every row that is about them. Of the address only a keyed hash stays, so that a later import
 * does not bring them back.
 * @throws Problem 404
 */
export async function erasePerson(platform: Platform, id: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    await contactById(tx, id, 'remove')
    const at = new Date(platform.clock.now())
    for (const key of await addressKeysOf(tx, id))
      await suppress(tx, addressHash(platform.settings.secret, key), 'erased', at)
    await deleteContact(tx, id)
    await announce(tx, 'audience', 'followups', 'email')
  })
}
