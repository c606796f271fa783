import { z } from 'zod'
import { parseAddress, type Address } from '../../core/audience/address.ts'
import type { SendMailOptions } from 'nodemailer'
import { DateTime } from 'luxon'
import { announce } from '../live.ts'
import { queueJobs } from '../jobs.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../problems.ts'
import { theBusiness } from '../workspace/business.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow, type Contact } from './contacts.ts'
import { mergePeople } from './merging.ts'
import { giveConsent } from './permission.ts'
import { setTopic } from './topics.ts'

const pauseDays = 30
/** A confirmation of a new address is good for so long. */
const confirmationLasts = 3 * 24 * 3_600_000

/** How the person themselves is named in the ledger of consent. */
const byThemselves = 'preferences page'

/** The address of the page on which one person chooses what they get. */
export function preferencesUrl(platform: Platform, contact: number): string {
  return `${platform.settings.publicUrl}/preferences/${platform.signer.sign('preferences', [contact])}`
}

export interface Preferences {
  contact: Contact
  pausedUntil: Date | null
  topics: { id: number; name: string; description: string; agreed: boolean }[]
}

/** Whose page this is, and what they have chosen. @throws Problem 404 */
export async function readPreferences(platform: Platform, token: string): Promise<Preferences> {
  const [id] = (platform.signer.open('preferences', token) ?? []).map(Number)
  if (!id) throw notFound('This link')
  const q = platform.database
  const contact = await contactById(q, id)
  const topics = await q.rows<Preferences['topics'][number]>(
    `select topic.id, name, description, coalesce(agreed, false) agreed
     from topic left join contact_topic on topic_id = topic.id and contact_id = $1
     where archived_at is null order by name_key`,
    [id],
  )
  const paused = await q.row<{ until: Date | null }>('select paused_until until from contact where id = $1', [
    id,
  ])
  return { contact, topics, pausedUntil: paused?.until ?? null }
}

/** Writes down which topics a person wants. Choosing one makes an unsubscribed person subscribed again. */
export async function chooseTopics(
  platform: Platform,
  chosen: Preferences,
  wanted: ReadonlySet<number>,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, chosen.contact.id, true)
    const at = personNow(platform.clock, contact)
    for (const topic of chosen.topics)
      await setTopic(tx, {
        contact: contact.id,
        topic: topic.id,
        agreed: wanted.has(topic.id),
        wording: `${topic.name}: ${topic.description}`.slice(0, 500),
        by: byThemselves,
        at,
      })
    const again = wanted.size > 0 && ['unsubscribed', 'neverAsked'].includes(contact.marketingState)
    if (again) {
      const names = chosen.topics.filter(({ id }) => wanted.has(id)).map(({ name }) => name)
      await giveConsent(tx, {
        contact: contact.id,
        wording: `Chose ${names.join(', ')}`,
        source: byThemselves,
        ip: null,
        at,
      })
    }
    await announce(tx, 'audience')
  })
}

/** No marketing email for 30 days, or from now on again. */
export async function pauseMail(platform: Platform, contactId: number, pause: boolean): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, contactId, true)
    const at = personNow(platform.clock, contact)
    const until = pause ? DateTime.fromMillis(at).plus({ days: pauseDays }).toJSDate() : null
    await tx.rows('update contact set paused_until = $2 where id = $1', [contactId, until])
    if (until)
      await recordActivities(tx, [
        { contact: contactId, kind: 'mailPaused', at, details: { until: until.toISOString() } },
      ])
    await announce(tx, 'audience')
  })
}

/**
 * Begins to change a person's address: the new one gets an email with a link, and nothing changes until it is opened.
 * @returns false when it is no address
 */
export async function askForNewAddress(platform: Platform, contact: number, typed: string): Promise<boolean> {
  const address = parseAddress(typed)
  if (!address) return false
  await platform.database.inTransaction((tx) =>
    queueJobs(tx, 'confirmAddress', [{ contact, address: address.shown }]),
  )
  return true
}

/** The email that asks whether the new address is theirs: the work of the job `confirmAddress`. */
export async function addressConfirmation(
  platform: Platform,
  { contact, address }: { contact: number; address: string },
): Promise<SendMailOptions> {
  const business = await theBusiness(platform.database)
  const token = platform.signer.sign('address', [contact, address, platform.clock.now()])
  const link = `${platform.settings.publicUrl}/new-address/${token}`
  return {
    from: { name: business.senderName, address: business.senderAddress },
    to: address,
    subject: `Is this your address? ${business.name} would write to it from now on`,
    text: `You asked ${business.name} to write to this address from now on.\n\nYes, write to this address:\n${link}\n\nIf you did not ask for it, do nothing: then nothing changes.\n\n--\n${business.name}\n${business.postalAddress}\n`,
  }
}

const confirmed = z.tuple([z.coerce.number().int().positive(), z.string(), z.coerce.number()])

/** Reads a link of a confirmation. @throws Problem 404 when it is none of ours or too old */
export function readAddressToken(platform: Platform, token: string): { contact: number; address: Address } {
  const read = confirmed.safeParse(platform.signer.open('address', token))
  const address = read.success ? parseAddress(read.data[1]) : null
  if (!read.success || !address || platform.clock.now() - read.data[2] > confirmationLasts)
    throw notFound('This link')
  return { contact: read.data[0], address }
}

/**
 * Changes a person's address once they have shown that the new one is theirs. Whoever was on the list under it is the
 * same person, and is merged.
 */
export async function confirmAddress(platform: Platform, token: string): Promise<void> {
  const { contact: id, address } = readAddressToken(platform, token)
  const other = await platform.database.row<{ id: number }>(
    'select id from contact where address_key = $1 and id <> $2',
    [address.key, id],
  )
  if (other) await mergePeople(platform, id, other.id, byThemselves)
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, id, true)
    const at = personNow(platform.clock, contact)
    await tx.rows('delete from other_address where address_key = $1', [address.key])
    await tx.rows(
      `insert into other_address (address_key, address, contact_id, at)
       select address_key, address, id, $3 from contact where id = $1 and address_key <> $2`,
      [id, address.key, new Date(at)],
    )
    await tx.rows(
      `update contact set address = $2, address_key = $3, updated_at = $4,
         marketing_state = case when marketing_state = 'bounced' then 'subscribed' else marketing_state end where id = $1`,
      [id, address.shown, address.key, new Date(at)],
    )
    await recordActivities(tx, [
      { contact: id, kind: 'contactChanged', at, details: { fields: ['address'], by: byThemselves } },
      { contact: id, kind: 'addressConfirmed', at, details: { by: byThemselves } },
    ])
    await announce(tx, 'audience')
  })
}
