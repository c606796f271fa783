import type { z } from 'zod'
import type { taggingRequest, topicRequest } from '../../../contract/audience/describing.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { contactById, personNow } from '../people/contacts.ts'
import { addTags, removeTags, tagsNamed } from './tags.ts'
import { setTopic } from './topics.ts'

/** Puts tags on a person, made by their names, and takes others off. @throws Problem 404 */
export async function tagPerson(
  platform: Platform,
  id: number,
  request: z.infer<typeof taggingRequest>,
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, id, 'change')
    const at = personNow(platform.clock, contact)
    const added = await tagsNamed(tx, request.add, new Date(at))
    await addTags(
      tx,
      added.map((tag) => ({ contact: id, tag, at })),
      by,
    )
    await removeTags(
      tx,
      request.remove.map((tag) => ({ contact: id, tag, at })),
      by,
    )
    await announce(tx, 'audience', 'followups')
  })
}

/** Writes down that a person agrees to a topic, or no longer does, as one of the business says. @throws Problem 404 */
export async function setTopicManually(
  platform: Platform,
  id: number,
  { topic, agreed }: z.infer<typeof topicRequest>,
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, id, 'change')
    const wording = agreed ? 'Agreed, as the team says' : 'No longer wants it, as the team says'
    const at = personNow(platform.clock, contact)
    await setTopic(tx, { contact: id, topic, agreed, wording, by, at })
  })
}
