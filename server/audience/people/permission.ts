import type { Platform } from '../../platform.ts'
import { announce } from '../../http/live.ts'
import type { Queries } from '../../database/connect.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow, setMarketingState } from './contacts.ts'

/** Writes into the ledger of consent: the wording that was shown, when, where and from which address. */
export async function giveConsent(
  q: Queries,
  entry: { contact: number; wording: string; source: string; ip: string | null; at: Instant },
): Promise<void> {
  await q.rows(
    `insert into consent (contact_id, given, wording, source, sender_ip, at) values ($1, true, $2, $3, $4, $5)`,
    [entry.contact, entry.wording, entry.source, entry.ip, new Date(entry.at)],
  )
  await setMarketingState(q, entry.contact, 'subscribed', entry.at)
  await recordActivities(q, [
    { contact: entry.contact, kind: 'consentGiven', at: entry.at, details: { source: entry.source } },
  ])
}

/** Takes a person off every marketing email. Doing it again changes nothing. */
export async function unsubscribe(
  platform: Platform,
  contactId: number,
  by: 'person' | 'mailbox',
  message?: number,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, contactId, 'change')
    if (contact.marketingState === 'unsubscribed') return
    const at = personNow(platform.clock, contact)
    await setMarketingState(tx, contact.id, 'unsubscribed', at)
    await tx.rows(
      `insert into consent (contact_id, given, wording, source, at) values ($1, false, $2, $3, $4)`,
      [
        contact.id,
        'Unsubscribed from all marketing email',
        by === 'mailbox' ? 'one-click unsubscribe of the mailbox' : 'link in an email',
        new Date(at),
      ],
    )
    await recordActivities(tx, [
      { contact: contact.id, kind: 'unsubscribed', at, details: { by, ...(message && { message }) } },
    ])
    await announce(tx, 'audience')
  })
}

/** Makes who waits again what they were before, in the transaction of `q`; who was not on the list stays waiting. */
export async function endWaiting(q: Queries, contacts: readonly number[]): Promise<void> {
  await q.rows(
    `update contact set marketing_state = open.state_before
     from (select distinct on (contact_id) contact_id, state_before from confirmation
       where contact_id = any($1) and confirmed_at is null order by contact_id, asked_at desc, id desc) open
     where contact.id = open.contact_id and marketing_state = 'waiting' and open.state_before is not null`,
    [contacts],
  )
}
