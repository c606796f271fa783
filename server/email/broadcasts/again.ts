import { selection } from '../../../contract/audience/people.ts'
import { notFound, Problem } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'
import { startBroadcast } from './starting.ts'

/**
 * Sends a broadcast once more to those who got it and did not open it, under another subject.
 * @returns the id of the new one
 * @throws Problem 404, 409 when that has been done, or it has not gone to all yet
 */
export async function sendAgain(
  platform: Platform,
  id: number,
  subject: string,
  by: string,
): Promise<number> {
  const { database: q } = platform
  const found = await q.row<{
    email: number
    topic: number | null
    again: boolean
    itself: boolean
    waits: boolean
  }>(
    `select coalesce((select email_id from broadcast_variant where broadcast_id = broadcast.id and number = winner),
         email_id) email, topic_id topic, again_of is not null itself,
       exists (select from broadcast later where later.again_of = $1 and later.called_back_by is null) again,
       exists (select from message where broadcast_id = $1 and state in ('queued', 'waiting')) waits
     from broadcast where id = $1`,
    [id],
  )
  if (!found) throw notFound('This broadcast')
  if (found.again || found.itself)
    throw new Problem(409, 'It was sent again already', 'Nobody gets the same email a third time.')
  if (found.waits)
    throw new Problem(409, 'It is still going out', 'Wait until everybody has it, then look who opened it.')
  const { email, topic } = found
  return startBroadcast(
    platform,
    { who: selection.parse({}), email, topic, moment: { when: 'now' }, test: null },
    { by, againOf: id },
    { email: null, subject, senderName: '' },
  )
}
