import type { Instant, Source } from '../../core/audience/people/activity.ts'
import type { MarketingState } from '../../core/audience/people/permission.ts'
import { recordActivities } from '../audience/people/activities.ts'
import {
  addressKeysOf,
  personNow,
  survivorOf,
  type Contact,
  type FoundContact,
} from '../audience/people/contacts.ts'
import { addTags } from '../audience/describing/tags.ts'
import { addressHash, unsuppress } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { fulfilForms, type AskedFor, type Place } from './fulfilment.ts'
import { formVersion, type PublishedForm } from './publishedForms.ts'

const day = 24 * 3_600_000

/** Emails of this kind that one person gets within a day at most, whoever types their address and where. */
const perDay = 3

/** So often the email can be asked for once more. */
export const mostResent = 3

/** A link is good for so long; who was on the list before is then again what they were. */
export const confirmationLasts = 7 * day

/** Asks by email whether a form was somebody's own. */
interface Asking {
  contact: FoundContact
  asked: AskedFor
  /** The sending. */
  token: string
  at: Instant
}

interface Before {
  contact: number
  /** Asked within a day. */
  today: number
  open: boolean
  state: MarketingState | null
}

/** What somebody was before they began to wait; null when they were not on the list. */
function stateBefore(
  { isNew, marketingState }: FoundContact,
  before: Before | undefined,
): MarketingState | null {
  if (isNew) return null
  if (marketingState !== 'waiting') return marketingState
  return before?.open ? before.state : 'waiting'
}

/**
 * Asks people by email whether forms that name them were theirs. They wait until they say yes; nothing goes to an
 * address that bounced, and no more than a few of these emails go to anybody within a day.
 */
export async function askForConfirmations(q: Queries, all: readonly Asking[]): Promise<void> {
  const reachable = all.filter(({ contact }) => contact.marketingState !== 'bounced')
  if (reachable.length === 0) return
  const before = await q.rows<Before>(
    `select t.id contact,
       (select count(*) from confirmation where contact_id = t.id and asked_at > t.at - interval '1 day') today,
       open.contact_id is not null open, open.state_before state
     from unnest($1::bigint[], $2::timestamptz[]) t (id, at)
     left join lateral (select contact_id, state_before from confirmation where contact_id = t.id
       and confirmed_at is null order by asked_at desc, id desc limit 1) open on true`,
    [reachable.map(({ contact }) => contact.id), reachable.map(({ at }) => new Date(at))],
  )
  const beforeOf = new Map(before.map((row) => [row.contact, row]))
  const asking = reachable.filter(({ contact }) => (beforeOf.get(contact.id)?.today ?? 0) < perDay)
  if (asking.length === 0) return
  const stored = await q.rows<{ id: number }>(
    `insert into confirmation (contact_id, form_id, form_version, page_id, page_version, site, source, answers, sender_ip,
       state_before, asked_at, token)
     select * from jsonb_to_recordset($1::jsonb) t (contact_id bigint, form_id bigint, form_version integer, page_id bigint,
       page_version integer, site text, source jsonb, answers jsonb, sender_ip inet, state_before text, asked_at timestamptz,
       token text) returning id`,
    [
      JSON.stringify(
        asking.map(({ contact, asked: { form, place, source, answers, ip }, token, at }) => ({
          contact_id: contact.id,
          form_id: form.id,
          form_version: form.version,
          page_id: place.page ?? null,
          page_version: place.pageVersion ?? null,
          site: place.site ?? null,
          source,
          answers,
          sender_ip: ip,
          state_before: stateBefore(contact, beforeOf.get(contact.id)),
          asked_at: new Date(at).toISOString(),
          token,
        })),
      ),
    ],
  )
  await q.rows(
    `update contact set marketing_state = 'waiting', updated_at = at
     from unnest($1::bigint[], $2::timestamptz[]) t (id, at) where contact.id = t.id`,
    [asking.map(({ contact }) => contact.id), asking.map(({ at }) => new Date(at))],
  )
  for (const { contact, asked, at } of asking) {
    const tag = asked.form.content.confirm.waitingTag
    // Who was on the list before shows no sign of it: anybody may have typed their address.
    if (tag !== null && contact.isNew)
      await addTags(q, [{ contact: contact.id, tag, at }], `form of ${asked.place.name}`)
  }
  await recordActivities(
    q,
    asking.map(({ contact, asked: { form, place }, at }) => ({
      contact: contact.id,
      kind: 'confirmationAsked',
      at,
      details: { form: form.id, ...(place.page !== undefined && { page: place.page }) },
    })),
  )
  await queueJobs(
    q,
    'sendConfirmation',
    stored.map(({ id }) => ({ confirmation: id })),
  )
}

interface Stored {
  id: number
  contact: number
  form: number
  version: number
  page: number | null
  pageName: string | null
  pageVersion: number | null
  site: string | null
  source: Source
  answers: AskedFor['answers']
  confirmed: boolean
  at: Instant
}

/** What was asked, with the form by which it was. */
export interface Confirmation extends Stored {
  of: PublishedForm
  /** The link is too old. */
  expired: boolean
}

/** @throws Problem 404 when the link is none of ours, or leads to somebody who was erased */
export async function readConfirmation(platform: Platform, q: Queries, token: string): Promise<Confirmation> {
  const [id] = (platform.signer.open('confirm', token) ?? []).map(Number)
  return confirmationOf(platform, q, id)
}

async function confirmationOf(platform: Platform, q: Queries, id: number | undefined): Promise<Confirmation> {
  const found = id
    ? await q.row<Stored>(
        `select confirmation.id, contact_id contact, form_id form, form_version as version, page_id page, page.name "pageName",
           page_version "pageVersion", site, source, answers, confirmed_at is not null confirmed,
           floor(extract(epoch from asked_at) * 1000)::bigint at
         from confirmation left join page on page.id = page_id where confirmation.id = $1`,
        [id],
      )
    : undefined
  const of = found && (await formVersion(q, found.form, found.version))
  if (!found || !of) throw notFound('This link')
  return { ...found, of, expired: !found.confirmed && platform.clock.now() - found.at > confirmationLasts }
}

const placeOf = ({ of, page, pageName, pageVersion, site }: Confirmation): Place => ({
  name: pageName ?? site ?? of.name,
  ...(page !== null && { page }),
  ...(pageVersion !== null && { pageVersion }),
  ...(site !== null && { site }),
})

/**
 * What was asked for in somebody's name comes true by their own click, once; further clicks are counted.
 * @returns what was asked, and whose click it was
 * @throws Problem 404 when the link is none of ours or too old
 */
export async function confirmForm(
  platform: Platform,
  token: string,
  ip: string | null,
): Promise<Confirmation & { whose: Contact }> {
  return platform.database.inTransaction(async (tx) => {
    const asked = await readConfirmation(platform, tx, token)
    if (asked.expired) throw notFound('This link')
    const whose = await survivorOf(tx, asked.contact, 'change')
    if (!whose) throw notFound('This link')
    await comeTrue(platform, tx, asked, { whose, ip })
    return { ...asked, whose }
  })
}

/**
 * A click in somebody's own mail confirms their address: what the last form asked for in their name comes true, if it
 * still waits for that. In the transaction of `q`; whose click it is has been locked.
 * @param by as the journal says it
 */
export async function confirmByClick(
  platform: Platform,
  q: Queries,
  { contact, by, at }: { contact: number; by: string; at: Instant },
): Promise<void> {
  const open = await q.row<{ id: number }>(
    `select id from confirmation where contact_id = $1 and confirmed_at is null and asked_at > $2
     order by asked_at desc, id desc limit 1`,
    [contact, new Date(platform.clock.now() - confirmationLasts)],
  )
  const whose = open && (await survivorOf(q, contact, 'change'))
  if (whose) await comeTrue(platform, q, await confirmationOf(platform, q, open.id), { whose, ip: null })
  else await recordActivities(q, [{ contact, kind: 'addressConfirmed', at, details: { by } }])
}

/** What was asked for comes true, the first time. */
async function comeTrue(
  platform: Platform,
  tx: Queries,
  asked: Confirmation,
  { whose, ip }: { whose: Contact; ip: string | null },
): Promise<void> {
  const at = personNow(platform.clock, whose)
  const click = await tx.row<{ first: boolean }>(
    `update confirmation set clicks = clicks + 1, confirmed_at = coalesce(before.confirmed_at, $2)
       from (select id, confirmed_at from confirmation where id = $1 for update) before
       where confirmation.id = before.id returning before.confirmed_at is null as first`,
    [asked.id, new Date(at)],
  )
  if (!click?.first) return
  for (const key of await addressKeysOf(tx, whose.id))
    await unsuppress(tx, addressHash(platform.settings.secret, key))
  await recordActivities(tx, [
    {
      contact: whose.id,
      kind: 'addressConfirmed',
      at,
      details: { by: placeOf(asked).name, form: asked.form },
    },
  ])
  // Whoever was asked and agrees to nothing is on the list all the same, as one who was never asked.
  await tx.rows(
    `update contact set marketing_state = coalesce((select state_before from confirmation where id = $2), 'neverAsked')
       where id = $1 and marketing_state = 'waiting'`,
    [whose.id, asked.id],
  )
  await fulfilForms(tx, [
    {
      contact: whose,
      asked: { form: asked.of, place: placeOf(asked), answers: asked.answers, source: asked.source, ip },
      at,
      confirmedAt: at,
      // Somebody else may have typed it: what is known stays.
      trusted: false,
      described: false,
    },
  ])
  await announce(tx, 'audience')
}

/**
 * Sends the email that asks once more, a few times at most.
 * @param confirmation its id
 * @param goodFrom when the link's days begin anew; they go on otherwise
 * @returns whether it goes out
 */
export async function resendConfirmation(
  q: Queries,
  confirmation: number,
  goodFrom: Date | null = null,
): Promise<boolean> {
  const row = await q.row(
    `update confirmation set resent = resent + 1, asked_at = coalesce($3, asked_at)
     where id = $1 and confirmed_at is null and resent < $2 returning id`,
    [confirmation, mostResent, goodFrom],
  )
  if (!row) return false
  await queueJobs(q, 'sendConfirmation', [{ confirmation }])
  return true
}

/** The token by which the page that a form left can ask for the email once more. */
export const againToken = ({ signer }: Platform, sending: string): string => signer.sign('again', [sending])

/**
 * Sends the email once more for whoever sent a form; nothing is told of whether there was one.
 * @throws Problem 404 when the token was not made here
 */
export async function askAgain(platform: Platform, token: string): Promise<void> {
  const [sending] = platform.signer.open('again', token) ?? []
  if (sending === undefined) throw notFound('This link')
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row<{ id: number }>(
      'select id from confirmation where token = $1 and confirmed_at is null and asked_at > $2',
      [sending, new Date(platform.clock.now() - confirmationLasts)],
    )
    if (found) await resendConfirmation(tx, found.id)
  })
}
