import type { z } from 'zod'
import { inboxMessage, inboxRows, type InboxMessage, type InboxRow } from '../../contract/email.ts'
import { Problem } from '../http/problems.ts'
import type { Settings } from '../settings.ts'

async function reach(settings: Settings, path: string, init: RequestInit = {}): Promise<Response> {
  const answer = await fetch(`http://127.0.0.1:${settings.standinsPort}${path}`, {
    ...init,
    signal: AbortSignal.timeout(5_000),
  }).catch(() => null)
  if (answer?.status === 404)
    throw new Problem(
      404,
      'This message was removed',
      'The test inbox keeps only the latest messages. Open another one.',
    )
  if (!answer?.ok)
    throw new Problem(
      503,
      'The test inbox is not responding',
      'Mail waits in the queue and nothing is lost. Start the stand-ins (nurtel standins) and reload.',
    )
  return answer
}

const ask = async <T>(settings: Settings, path: string, shape: z.ZodType<T>): Promise<T> =>
  shape.parse(await (await reach(settings, path)).json())

/** The newest messages that the stand-in mail server took, without their bodies. @throws Problem 503 */
export function listInbox(settings: Settings, search: string): Promise<InboxRow[]> {
  return ask(settings, `/rows?${new URLSearchParams({ search }).toString()}`, inboxRows)
}

/** One message of the test inbox. @throws Problem 404, 503 */
export function readInbox(settings: Settings, id: number): Promise<InboxMessage> {
  return ask(settings, `/messages/${id}`, inboxMessage)
}

/** The mail that went to one address, newest first, without bodies. @throws Problem 503 */
export function listMailOf(settings: Settings, to: string): Promise<InboxRow[]> {
  return ask(settings, `/rows?${new URLSearchParams({ to }).toString()}`, inboxRows)
}

/** Empties the mailbox of one address. @throws Problem 503 */
export async function emptyMailbox(settings: Settings, to: string): Promise<void> {
  await reach(settings, `/messages?${new URLSearchParams({ to }).toString()}`, { method: 'DELETE' })
}
