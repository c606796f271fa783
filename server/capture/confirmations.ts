import type { Instant } from '../../core/audience/people/activity.ts'
import type { MarketingState } from '../../core/audience/people/permission.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { FoundContact } from '../audience/people/contacts.ts'
import { addTags } from '../audience/describing/tags.ts'
import type { Queries } from '../database/connect.ts'
import { notFound } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import type { AskedFor } from './fulfilment.ts'

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
       state_before, asked_at, token, take_id)
     select * from jsonb_to_recordset($1::jsonb) t (contact_id bigint, form_id bigint, form_version integer, page_id bigint,
       page_version integer, site text, source jsonb, answers jsonb, sender_ip inet, state_before text, asked_at timestamptz,
       token text, take_id bigint) returning id`,
    [
      JSON.stringify(
        asking.map(({ contact, asked: { form, place, source, answers, ip, take }, token, at }) => ({
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
          take_id: take ?? null,
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
