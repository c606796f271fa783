import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import type { Device } from '../pages/visits.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'

/** A message that somebody has before them. */
interface Opened {
  message: number
  email: number
  contact: number
}

/** Who asks for the picture of an email, or follows one of its links. */
export interface Asker {
  /** What a machine says of itself; null when it is a person. */
  machine: string | null
  device: Device
}

/** Writes an open down, the first time alone, in the transaction of `q`. */
export async function recordOpen(q: Queries, opened: Opened, at: Instant, device: Device): Promise<void> {
  const first = await q.row(
    'update message set opened_at = $2, device = $3 where id = $1 and opened_at is null returning id',
    [opened.message, new Date(at), device],
  )
  if (!first) return
  const { contact, ...details } = opened
  await recordActivities(q, [{ contact, kind: 'emailOpened', at, details }])
  await announce(q, 'audience')
}

/** Notes that the picture of an email was asked for. What was not made here is passed over. */
export async function noteOpen(platform: Platform, token: string, { machine, device }: Asker): Promise<void> {
  const [message] = (platform.signer.open('open', token) ?? []).map(Number)
  if (!message) return
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row<Opened & { clockAhead: number }>(
      `select message.id message, email_id email, contact.id contact, clock_ahead "clockAhead"
       from message join contact on contact.id = contact_id where message.id = $1 and opened_at is null and not untracked`,
      [message],
    )
    if (!found) return
    const { clockAhead, ...opened } = found
    if (machine !== null) {
      await tx.rows('update message set machine_opened_at = coalesce(machine_opened_at, $2) where id = $1', [
        message,
        new Date(personNow(platform.clock, { clockAhead })),
      ])
      return
    }
    await recordOpen(tx, opened, personNow(platform.clock, { clockAhead }), device)
  })
}
