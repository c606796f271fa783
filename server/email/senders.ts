import type { SendMailOptions } from 'nodemailer'
import type { SenderView } from '../../contract/sending.ts'
import { parseAddress } from '../../core/audience/people/address.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { currentDocuments } from '../pages/usage.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { getBusiness } from '../workspace/business.ts'
import type { Mailbox } from './mime/headers.ts'

/** A link that confirms a sender is good for so long, and a new one can be asked for after a minute (ms). */
const linkLasts = 3 * 86_400_000
const askAgainAfter = 60_000

/** The senders of the business, with where each is used. */
export async function listSenders(q: Queries): Promise<SenderView[]> {
  return q.rows<SenderView>(
    `with ${currentDocuments}
     select sender.id, sender.name, address, confirmed_at is not null confirmed,
       sender.id = business.sender_id usual,
       to_json(array(select distinct place from document
         where place like 'email %' and content->>'sender' = sender.id::text order by place)) "usedIn"
     from sender cross join business order by sender.id = business.sender_id desc, lower(sender.name), sender.id`,
  )
}

/** Whether each sender has said yes. */
export async function loadSenders(q: Queries): Promise<Map<number, boolean>> {
  const rows = await q.rows<{ id: number; confirmed: boolean }>(
    'select id, confirmed_at is not null confirmed from sender',
  )
  return new Map(rows.map(({ id, confirmed }) => [id, confirmed]))
}

/** A sender that has said yes; null when none is chosen. */
export async function senderOf(q: Queries, id: number | null): Promise<Mailbox | null> {
  const found = await q.row<Mailbox>(
    'select name, address from sender where id = $1 and confirmed_at is not null',
    [id],
  )
  return found ?? null
}

async function ask(q: Queries, id: number, at: Date): Promise<void> {
  await q.rows('update sender set asked_at = $2 where id = $1', [id, at])
  await queueJobs(q, 'sendSenderConfirmation', [{ sender: id }])
  await announce(q, 'workspace')
}

/** Adds a sender and asks its address by email. @throws Problem 409, 422 */
export async function addSender(
  q: Queries,
  { name, address: typed }: { name: string; address: string },
  at: Date,
): Promise<number> {
  const address = parseAddress(typed)
  if (!address)
    throw new Problem(422, 'This is no email address', 'Check it for typing mistakes.', {
      address: 'Use an address such as name@example.com',
    })
  const row = await q.row<{ id: number }>(
    `insert into sender (name, address, address_key, created_at) values ($1, $2, $3, $4)
     on conflict (address_key) do nothing returning id`,
    [name, address.shown, address.key, at],
  )
  if (!row) throw new Problem(409, 'There is a sender with this address', 'Use that one, or another address.')
  await ask(q, row.id, at)
  return row.id
}

interface StoredSender {
  id: number
  name: string
  address: string
  askedAt: Date | null
  confirmed: boolean
  usual: boolean
}

async function sender(q: Queries, id: number): Promise<StoredSender> {
  const found = await q.row<StoredSender>(
    `select sender.id, sender.name, address, asked_at "askedAt", confirmed_at is not null confirmed,
       sender.id = business.sender_id usual
     from sender cross join business where sender.id = $1 for update of sender`,
    [id],
  )
  if (!found) throw notFound('This sender')
  return found
}

/** Sends the link anew. @throws Problem 404, 409 when it is not needed, 429 */
export async function askSenderAgain(q: Queries, id: number, at: Date): Promise<void> {
  const { confirmed, askedAt } = await sender(q, id)
  if (confirmed) throw new Problem(409, 'This address is confirmed already', 'Emails can come from it.')
  if (askedAt && at.getTime() - askedAt.getTime() < askAgainAfter)
    throw new Problem(429, 'A link was sent a moment ago', 'Wait a minute, then ask for another one.')
  await ask(q, id, at)
}

/** @throws Problem 404 */
export async function renameSender(q: Queries, id: number, name: string): Promise<void> {
  await sender(q, id)
  await q.rows('update sender set name = $2 where id = $1', [id, name])
  await announce(q, 'workspace')
}

/** Emails that name no sender come from this one. @throws Problem 404, 409 while it is not confirmed */
export async function makeUsualSender(q: Queries, id: number): Promise<void> {
  const { confirmed, address } = await sender(q, id)
  if (!confirmed)
    throw new Problem(409, 'This address is not confirmed yet', `Open the link that was sent to ${address}.`)
  await q.rows('update business set sender_id = $1', [id])
  await announce(q, 'workspace', 'pages')
}

/** @throws Problem 404, 409 while emails come from it */
export async function deleteSender(q: Queries, id: number): Promise<void> {
  const { usual, address } = await sender(q, id)
  const places = (await listSenders(q)).find((each) => each.id === id)?.usedIn ?? []
  if (usual || places.length > 0)
    throw new Problem(
      409,
      `Emails come from ${address}`,
      usual ? 'Make another one the usual sender first.' : `Choose another sender in ${places.join(', ')}.`,
    )
  await q.rows('delete from sender where id = $1', [id])
  await announce(q, 'workspace')
}

/** The email that asks an address whether mail may come from it: the work of a job; null when it need not be asked. */
export async function senderConfirmation(platform: Platform, id: number): Promise<SendMailOptions | null> {
  const { database: q, signer, settings } = platform
  const asked = await q.row<{ name: string; address: string; at: number }>(
    `select name, address, floor(extract(epoch from asked_at) * 1000)::bigint at
     from sender where id = $1 and confirmed_at is null`,
    [id],
  )
  if (!asked) return null
  const business = await getBusiness(q)
  const link = `${settings.publicUrl}/confirm-sender/${signer.sign('sender', [id, asked.at])}`
  return {
    from: { name: business.sender.name, address: business.sender.address },
    to: asked.address,
    subject: `May ${business.name} send emails from this address?`,
    text: `Somebody of ${business.name} would like to send emails from this address, as ${asked.name}.\n\nYes, emails may come from here:\n${link}\n\nThe link is good for three days. If you did not ask for this, do nothing: then nothing is sent from your address.\n\n--\n${business.name}\n${business.postalAddress}\n`,
  }
}

/** The sender behind a link. @throws Problem 404 when it is none of ours, too old, or not the last one sent */
export async function readSenderLink(
  { database, signer, clock }: Platform,
  token: string,
): Promise<{ id: number; name: string; address: string }> {
  const [id, at] = (signer.open('sender', token) ?? []).map(Number)
  const found =
    id && at && clock.now() - at < linkLasts
      ? await database.row<{ id: number; name: string; address: string }>(
          `select id, name, address from sender
           where id = $1 and floor(extract(epoch from asked_at) * 1000) = $2`,
          [id, at],
        )
      : undefined
  if (!found) throw notFound('This link')
  return found
}

/** Emails may come from its address from now on. @throws Problem 404 */
export async function confirmSender(platform: Platform, token: string): Promise<{ address: string }> {
  const { id, address } = await readSenderLink(platform, token)
  await platform.database.rows('update sender set confirmed_at = coalesce(confirmed_at, $2) where id = $1', [
    id,
    new Date(platform.clock.now()),
  ])
  await announce(platform.database, 'workspace', 'pages')
  return { address }
}
