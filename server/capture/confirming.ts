import type { Instant, Source } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { addressKeysOf, personNow, survivorOf, type Contact } from '../audience/people/contacts.ts'
import { addressHash, unsuppress } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { finishTake } from '../quizzes/finishing.ts'
import { confirmationLasts } from './confirmations.ts'
import { fulfilForms, type AskedFor, type Place } from './fulfilment.ts'
import { formVersion, type PublishedForm } from './publishedForms.ts'

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
  take: number | null
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
           page_version "pageVersion", site, source, answers, take_id take, confirmed_at is not null confirmed,
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
  // Whoever says yes by their own mail is surely the one.
  if (asked.take !== null)
    await finishTake(platform, tx, { take: asked.take, contact: whose.id, at, trusted: true })
  await announce(tx, 'audience')
}
