import { createHmac } from 'node:crypto'
import { Webhook } from 'standardwebhooks'
import type { FormEmail } from '../capture/formEmails.ts'
import { survivorOf } from '../audience/people/contacts.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import type { JobPayload } from '../work/jobs.ts'

/** What a step, a quiz or an order says to the team of somebody: the work of the job `tellTeam`. An answer goes to the person. */
export async function teamNote(
  platform: Platform,
  { contact, followup, quiz, order, words }: JobPayload<'tellTeam'>,
): Promise<FormEmail | null> {
  const q = platform.database
  const who = await survivorOf(q, contact)
  const from = await q.row<{ name: string }>(
    `select name from followup where id = $1 union all select name from quiz where id = $2
     union all select 'Order ' || id from customer_order where id = $3`,
    [followup ?? null, quiz ?? null, order ?? null],
  )
  const team = await q.rows<{ address: string }>('select address from account order by id')
  if (!who || !from || team.length === 0) return null
  const { sender } = await getBusiness(q)
  const name = `${who.firstName} ${who.lastName}`.trim() || who.address
  return {
    rehearsal: who.rehearsal,
    mail: {
      from: { name: sender.name, address: sender.address },
      to: team.map(({ address }) => address),
      replyTo: who.address,
      subject: `${from.name}: ${name}`,
      text: `${words}\n\n${name} (${who.address})\n${platform.settings.publicUrl}/app/people/${who.id}`,
    },
  }
}

/** A server that takes longer to answer is tried again later (milliseconds). */
const patience = 10_000

/** The secret by which the servers of this install's owner know that a call is ours. */
export const webhookSecret = ({ settings }: Pick<Platform, 'settings'>): string =>
  `whsec_${createHmac('sha256', settings.secret).update('webhooks').digest('base64').slice(0, 32)}`

/** The signature of a call, as the Standard Webhooks specification has it. @param time in seconds since 1970 */
export const signWebhook = (secret: string, id: string, time: number, body: string): string =>
  new Webhook(secret).sign(id, new Date(time * 1_000), body)

/**
 * Reports to another server what a step says: the work of the job `callWebhook`. The id stays the same however often
 * it is tried, so that the other side can tell. Nobody's next step waits for it; rehearsal calls nobody.
 * @throws Error when the server did not take it: the queue tries again, later and later
 */
export async function callWebhook(
  platform: Platform,
  { contact, followup, enrolment, step, url, at }: JobPayload<'callWebhook'>,
): Promise<void> {
  const who = await survivorOf(platform.database, contact)
  if (!who || who.rehearsal) return
  const id = `followup_${enrolment}_${step}`
  const time = Math.floor(platform.clock.now() / 1_000)
  const body = JSON.stringify({
    type: 'followup.step',
    timestamp: new Date(at).toISOString(),
    data: {
      followup,
      step,
      person: { id: who.id, address: who.address, firstName: who.firstName, lastName: who.lastName },
    },
  })
  const answer = await fetch(url, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      'webhook-id': id,
      'webhook-timestamp': String(time),
      'webhook-signature': signWebhook(webhookSecret(platform), id, time, body),
    },
    body,
    redirect: 'error',
    signal: AbortSignal.timeout(patience),
  })
  await answer.body?.cancel()
  if (!answer.ok) throw new Error(`${new URL(url).host} answered ${answer.status}`)
}
