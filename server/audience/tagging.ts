import type { z } from 'zod'
import type { taggingRequest } from '../../contract/audience.ts'
import { announce } from '../live.ts'
import type { Platform } from '../platform.ts'
import { contactById, personNow } from './contacts.ts'
import { addTags, removeTags, tagsNamed } from './tags.ts'

/** Puts tags on a person, made by their names, and takes others off. @throws Problem 404 */
export async function tagPerson(
  platform: Platform,
  id: number,
  wish: z.infer<typeof taggingRequest>,
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, id, 'change')
    const at = personNow(platform.clock, contact)
    const added = await tagsNamed(tx, wish.add, new Date(at))
    await addTags(
      tx,
      added.map((tag) => ({ contact: id, tag, at })),
      by,
    )
    await removeTags(
      tx,
      wish.remove.map((tag) => ({ contact: id, tag, at })),
      by,
    )
    await announce(tx, 'audience', 'followups')
  })
}
