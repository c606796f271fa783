import { DateTime } from 'luxon'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound } from '../../http/problems.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow, survivorOf, type Contact } from './contacts.ts'
import { giveConsent } from './permission.ts'
import { setTopic } from '../describing/topics.ts'

const pauseDays = 30
/** How the person themselves is named in the ledger of consent. */
export const byThemselves = 'preferences page'

/** The address of the page on which one person chooses what they get. */
export function preferencesUrl(platform: Platform, contact: number): string {
  return `${platform.settings.publicUrl}/preferences/${platform.signer.sign('preferences', [contact])}`
}

export interface Preferences {
  contact: Contact
  pausedUntil: Date | null
  /** Their opens and clicks are not counted. */
  untracked: boolean
  topics: { id: number; name: string; description: string; agreed: boolean }[]
}

/** Whose page this is, and what they have chosen. @throws Problem 404 */
export async function readPreferences(platform: Platform, token: string): Promise<Preferences> {
  const [id] = (platform.signer.open('preferences', token) ?? []).map(Number)
  if (!id) throw notFound('This link')
  const q = platform.database
  const contact = await survivorOf(q, id)
  if (!contact) throw notFound('This link')
  const topics = await q.rows<Preferences['topics'][number]>(
    `select topic.id, name, description, coalesce(agreed, false) agreed
     from topic left join contact_topic on topic_id = topic.id and contact_id = $1
     where archived_at is null order by name_key`,
    [contact.id],
  )
  const wishes = await q.row<Pick<Preferences, 'pausedUntil' | 'untracked'>>(
    'select paused_until "pausedUntil", untracked from contact where id = $1',
    [contact.id],
  )
  return { contact, topics, pausedUntil: null, untracked: false, ...wishes }
}

/** Writes down which topics a person wants. Choosing one makes an unsubscribed person subscribed again. */
export async function chooseTopics(
  platform: Platform,
  chosen: Preferences,
  wanted: ReadonlySet<number>,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, chosen.contact.id, 'change')
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
    const contact = await contactById(tx, contactId, 'change')
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

/** Counts what a person opens and clicks, or not. */
export async function setTracking(platform: Platform, contactId: number, tracked: boolean): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, contactId, 'change')
    const changed = await tx.row(
      'update contact set untracked = $2 where id = $1 and untracked <> $2 returning id',
      [contactId, !tracked],
    )
    if (!changed) return
    const details = { fields: ['counting of opens and clicks'], by: byThemselves }
    await recordActivities(tx, [
      { contact: contactId, kind: 'contactChanged', at: personNow(platform.clock, contact), details },
    ])
    await announce(tx, 'audience')
  })
}
