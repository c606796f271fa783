import type { SendMailOptions } from 'nodemailer'
import { parseAddress, type Address } from '../../../core/audience/people/address.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { queueJobs } from '../../work/jobs.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound } from '../../http/problems.ts'
import { getBusiness } from '../../workspace/business.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow, survivorOf } from './contacts.ts'
import { byThemselves } from './preferences.ts'

const day = 24 * 3_600_000

/** Emails that ask about a new address: so many a day for one person, and for one address, whoever names it. */
const perDay = 3

/** A link is good for so long. */
const linkLasts = 3 * day

/** What came of asking for a new address; `asked` also where the address has had enough such emails today. */
export type NewAddress = 'asked' | 'noAddress' | 'tooOften'

async function askedToday(q: Queries, what: 'contact_id' | 'address_key', of: number | string, now: Instant) {
  const found = await q.row<{ count: number }>(
    `select count(*) count from address_change where ${what} = $1 and asked_at > $2`,
    [of, new Date(now - day)],
  )
  return found?.count ?? 0
}

/** Begins to change a person's address: the new one gets an email with a link, and nothing changes until it is used. */
export async function askForNewAddress(
  platform: Platform,
  contactId: number,
  typed: string,
): Promise<NewAddress> {
  const address = parseAddress(typed)
  if (!address) return 'noAddress'
  return platform.database.inTransaction(async (tx) => {
    await contactById(tx, contactId, 'change')
    const now = platform.clock.now()
    if ((await askedToday(tx, 'contact_id', contactId, now)) >= perDay) return 'tooOften'
    // Two people may name one address at the same moment.
    await tx.rows('select pg_advisory_xact_lock(hashtextextended($1, 0))', [`new address ${address.key}`])
    if ((await askedToday(tx, 'address_key', address.key, now)) >= perDay) return 'asked'
    const change = await tx.row<{ id: number }>(
      `insert into address_change (contact_id, address, address_key, asked_at) values ($1, $2, $3, $4) returning id`,
      [contactId, address.shown, address.key, new Date(now)],
    )
    if (!change) throw new Error('an insert returned no row')
    await queueJobs(tx, 'sendAddressConfirmation', [{ change: change.id }])
    return 'asked'
  })
}

interface AddressChange {
  id: number
  contact: number
  address: Address
}

/**
 * The email that asks whether the new address is theirs: the work of the job `sendAddressConfirmation`.
 * @returns null when there is nothing left to ask
 */
export async function addressConfirmationEmail(
  platform: Platform,
  id: number,
): Promise<{ mail: SendMailOptions; rehearsal: boolean } | null> {
  const { database, signer, settings } = platform
  const change = await database.row<{ contact: number; address: string }>(
    'select contact_id contact, address from address_change where id = $1 and used_at is null',
    [id],
  )
  const contact = change && (await survivorOf(database, change.contact))
  if (!change || !contact) return null
  const business = await getBusiness(database)
  const link = `${settings.publicUrl}/new-address/${signer.sign('new address', [id])}`
  return {
    rehearsal: contact.rehearsal,
    mail: {
      from: { name: business.sender.name, address: business.sender.address },
      to: change.address,
      subject: `Is this your address? ${business.name} would write to it from now on`,
      text: `You asked ${business.name} to write to this address from now on.\n\nYes, write to this address:\n${link}\n\nIf you did not ask for it, do nothing: then nothing changes.\n\n--\n${business.name}\n${business.postalAddress}\n`,
    },
  }
}

/** The change behind a link. @throws Problem 404 when it is none of ours, too old or used */
export async function readAddressChange(
  platform: Platform,
  token: string,
  q: Queries = platform.database,
): Promise<AddressChange> {
  const [id] = (platform.signer.open('new address', token) ?? []).map(Number)
  const found = id
    ? await q.row<{ id: number; contact: number; shown: string; key: string }>(
        `select id, contact_id contact, address shown, address_key "key" from address_change
         where id = $1 and used_at is null and asked_at > $2`,
        [id, new Date(platform.clock.now() - linkLasts)],
      )
    : undefined
  if (!found) throw notFound('This link')
  const { shown, key, ...change } = found
  return { ...change, address: { shown, key } }
}

/**
 * Changes a person's address once they have shown that the new one is theirs. An address that belongs to somebody else
 * on the list stays theirs: whoever holds both mailboxes may be one person, but a click does not show it. The journal
 * tells the marketer, who can merge the two.
 * @returns `taken` when it belongs to somebody else
 * @throws Problem 404 when the link is none of ours, too old or used
 */
export async function confirmAddress(platform: Platform, token: string): Promise<'changed' | 'taken'> {
  return platform.database.inTransaction(async (tx) => {
    const { contact: asked } = await readAddressChange(platform, token, tx)
    const contact = await survivorOf(tx, asked, 'change')
    if (!contact) throw notFound('This link')
    const { id, address } = await readAddressChange(platform, token, tx)
    const at = personNow(platform.clock, contact)
    await tx.rows('update address_change set used_at = $2 where id = $1', [id, new Date(at)])

    const other = await tx.row(
      `select from contact where address_key = $1 and id <> $2
       union all select from other_address where address_key = $1 and contact_id <> $2`,
      [address.key, contact.id],
    )
    if (other) {
      await recordActivities(tx, [
        { contact: contact.id, kind: 'addressTaken', at, details: { address: address.shown } },
      ])
      await announce(tx, 'audience')
      return 'taken'
    }
    await tx.rows('delete from other_address where address_key = $1', [address.key])
    await tx.rows(
      `insert into other_address (address_key, address, contact_id, at)
       select address_key, address, id, $3 from contact where id = $1 and address_key <> $2`,
      [contact.id, address.key, new Date(at)],
    )
    await tx.rows(
      `update contact set address = $2, address_key = $3, updated_at = $4,
         marketing_state = case when marketing_state = 'bounced' then 'subscribed' else marketing_state end where id = $1`,
      [contact.id, address.shown, address.key, new Date(at)],
    )
    await recordActivities(tx, [
      {
        contact: contact.id,
        kind: 'contactChanged',
        at,
        details: { fields: ['address'], by: byThemselves },
      },
      { contact: contact.id, kind: 'addressConfirmed', at, details: { by: byThemselves } },
    ])
    await announce(tx, 'audience')
    return 'changed'
  })
}
