import type { SendMailOptions } from 'nodemailer'
import type { Instant, Source } from '../../core/audience/people/activity.ts'
import type { MarketingState } from '../../core/audience/people/permission.ts'
import { recordActivities } from '../audience/people/activities.ts'
import {
  addressKeysOf,
  contactById,
  personNow,
  setMarketingState,
  survivorOf,
  type Contact,
} from '../audience/people/contacts.ts'
import { deleteContact } from '../audience/people/erasing.ts'
import { endWaiting } from '../audience/people/permission.ts'
import { addressHash, unsuppress } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import { queueJobs } from '../work/jobs.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { getBusiness } from '../workspace/business.ts'
import { fulfilForm, type AskedFor } from './fulfilment.ts'
import { publishedOrNewest, type ShownPage } from '../pages/versions.ts'

const day = 24 * 3_600_000

/** Emails of this kind that one person gets within a day at most, whoever types their address and where. */
const perDay = 3

/** A link is good for so long; then the person is again what they were before. */
const confirmationLasts = 7 * day

/** What somebody was before they began to wait; null when they were not on the list. */
async function stateBefore(
  q: Queries,
  contact: Contact & { isNew: boolean },
): Promise<MarketingState | null> {
  if (contact.isNew) return null
  if (contact.marketingState !== 'waiting') return contact.marketingState
  const open = await q.row<{ state: MarketingState | null }>(
    `select state_before state from confirmation where contact_id = $1 and confirmed_at is null
     order by asked_at desc, id desc limit 1`,
    [contact.id],
  )
  return open ? open.state : 'waiting'
}

/**
 * Asks somebody by email whether a form that names them was theirs. They wait until they say yes; nothing goes to an
 * address that bounced, and no more than a few of these emails go to anybody within a day.
 */
export async function askForConfirmation(
  q: Queries,
  contact: Contact & { isNew: boolean },
  asked: AskedFor,
  at: Instant,
): Promise<void> {
  if (contact.marketingState === 'bounced') return
  const today = await q.row<{ count: number }>(
    'select count(*) count from confirmation where contact_id = $1 and asked_at > $2',
    [contact.id, new Date(at - day)],
  )
  if ((today?.count ?? 0) >= perDay) return
  const stored = await q.row<{ id: number }>(
    `insert into confirmation (contact_id, page_id, first_name, source, wording, sender_ip, state_before, asked_at,
       block, tag_id)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id`,
    [
      contact.id,
      asked.page,
      asked.firstName,
      JSON.stringify(asked.source),
      asked.wording,
      asked.ip,
      await stateBefore(q, contact),
      new Date(at),
      asked.block,
      asked.tag,
    ],
  )
  if (!stored) throw new Error('an insert returned no row')
  await setMarketingState(q, contact.id, 'waiting', at)
  await recordActivities(q, [
    { contact: contact.id, kind: 'confirmationAsked', at, details: { page: asked.page } },
  ])
  await queueJobs(q, 'sendConfirmation', [{ confirmation: stored.id }])
}

/**
 * The email that asks: the work of the job `sendConfirmation`. It says nothing that was typed into the form, so that
 * nobody can use it to write to somebody else.
 * @returns null when there is nothing left to ask
 */
export async function confirmationEmail(
  platform: Platform,
  id: number,
): Promise<{ mail: SendMailOptions; rehearsal: boolean } | null> {
  const { database, signer, settings } = platform
  const open = await database.row<{ contact: number; page: number }>(
    'select contact_id contact, page_id page from confirmation where id = $1 and confirmed_at is null',
    [id],
  )
  const page = open && (await publishedOrNewest(database, open.page))
  if (!open || !page) return null
  const { address, rehearsal } = await contactById(database, open.contact)
  const business = await getBusiness(database)
  const link = `${settings.publicUrl}/confirm/${signer.sign('confirm', [id])}`
  return {
    rehearsal,
    mail: {
      from: { name: business.senderName, address: business.senderAddress },
      to: address,
      subject: `Please confirm: ${page.content.title}`,
      text: [
        `Somebody, probably you, asked ${business.name} for “${page.content.title}” with this address.`,
        `Confirm that it was you, and it comes to you at once:\n${link}`,
        'If it was not you, do nothing: nothing changes, and nothing more comes.',
        `--\n${business.name}\n${business.postalAddress}\n`,
      ].join('\n\n'),
    },
  }
}

interface Open {
  id: number
  contact: number
  page: number
  firstName: string
  source: Source
  wording: string
  block: string
  tag: number | null
  confirmed: boolean
}

async function readConfirmation(
  platform: Platform,
  q: Queries,
  token: string,
): Promise<Open & { at: number }> {
  const [id] = (platform.signer.open('confirm', token) ?? []).map(Number)
  const found = id
    ? await q.row<Open & { at: number }>(
        `select id, contact_id contact, page_id page, first_name "firstName", source, wording,
           coalesce(block, '') block, tag_id tag, confirmed_at is not null confirmed, floor(extract(epoch from asked_at) * 1000)::bigint at
         from confirmation where id = $1`,
        [id],
      )
    : undefined
  if (!found) throw notFound('This link')
  return found
}

/** The page that a confirmation is about. @throws Problem 404 when the link is none of ours or too old */
export async function confirmationPage(
  platform: Platform,
  token: string,
): Promise<ShownPage & { wording: string; block: string }> {
  const { page, at, confirmed, wording, block } = await readConfirmation(platform, platform.database, token)
  if (!confirmed && platform.clock.now() - at > confirmationLasts) throw notFound('This link')
  const found = await publishedOrNewest(platform.database, page)
  if (!found) throw notFound('This link')
  return { ...found, wording, block }
}

/**
 * What was asked for in somebody's name comes true by their own click, once.
 * @returns the page that it was asked on, and whose click it was
 * @throws Problem 404 when the link is none of ours or too old
 */
export async function confirmForm(
  platform: Platform,
  token: string,
  ip: string | null,
): Promise<ShownPage & { block: string; contact: number }> {
  const page = await confirmationPage(platform, token)
  const contact = await platform.database.inTransaction(async (tx) => {
    const asked = await readConfirmation(platform, tx, token)
    const contact = await survivorOf(tx, asked.contact, 'change')
    if (!contact) throw notFound('This link')
    const at = personNow(platform.clock, contact)
    const first = await tx.row(
      'update confirmation set confirmed_at = $2 where id = $1 and confirmed_at is null returning id',
      [asked.id, new Date(at)],
    )
    if (!first) return contact.id
    const keys = await addressKeysOf(tx, contact.id)
    for (const key of keys) await unsuppress(tx, addressHash(platform.settings.secret, key))
    await recordActivities(tx, [
      { contact: contact.id, kind: 'addressConfirmed', at, details: { by: page.name } },
    ])
    await fulfilForm(tx, contact, { ...asked, ip }, at)
    await announce(tx, 'audience')
    return contact.id
  })
  return { ...page, contact }
}

/** Ends what nobody confirmed in time, and forgets tokens that no form can use any more. A part of `maintenance`. */
export async function expireConfirmations(platform: Platform): Promise<void> {
  const { database, clock } = platform
  const before = new Date(clock.now() - confirmationLasts)
  const late = await database.rows<{ contact: number }>(
    `select contact_id contact from confirmation where confirmed_at is null
     group by 1 having max(asked_at) < $1 order by 1`,
    [before],
  )
  for (const { contact: id } of late)
    await database.inTransaction(async (tx) => {
      const contact = await survivorOf(tx, id, 'remove')
      if (!contact) return
      const unknown = await tx.row(
        'select from confirmation where contact_id = $1 and confirmed_at is null and state_before is null limit 1',
        [id],
      )
      if (unknown && contact.marketingState === 'waiting') {
        // Somebody who was forgotten, and did not ask to be known again.
        await deleteContact(tx, id)
      } else {
        await endWaiting(tx, [id])
        await tx.rows('delete from confirmation where contact_id = $1 and confirmed_at is null', [id])
      }
      await announce(tx, 'audience')
    })
  await database.rows('delete from form_sending where at < $1', [new Date(clock.now() - 2 * day)])
}
