import { moneyWords } from '../../core/commerce/money.ts'
import { letterOf, type FormEmail } from '../capture/formEmails.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import type { JobPayload } from '../work/jobs.ts'
import { broughtBy, linesOf } from './completing.ts'
import { orderPath } from './orderLinks.ts'

/** A way to something that was bought. */
export interface Way {
  label: string
  to: { page: number } | { file: number } | { url: string }
}

/** The ways to what an order brings, each once. */
export async function waysOf(q: Queries, order: number): Promise<Way[]> {
  const ways = new Map<string, Way>()
  for (const line of await linesOf(q, order))
    for (const each of await broughtBy(q, line)) {
      if (each.does === 'openPage' && each.page !== null)
        ways.set(`page ${each.page}`, { label: `Open ${line.title}`, to: { page: each.page } })
      if (each.does === 'sendFile' && each.file !== null)
        ways.set(`file ${each.file}`, { label: `Download ${line.title}`, to: { file: each.file } })
      if (each.does === 'openAddress' && each.url !== '')
        ways.set(each.url, { label: `Go to ${line.title}`, to: { url: each.url } })
    }
  return [...ways.values()]
}

/** The receipt of an order, with the way to its page: the work of the job `sendReceipt`. */
export async function receiptEmail(
  platform: Platform,
  { order }: JobPayload<'sendReceipt'>,
): Promise<FormEmail | null> {
  const { database: q, settings } = platform
  const row = await q.row<{
    address: string
    firstName: string
    currency: string
    total: number
    test: boolean
    state: string
  }>(
    `select customer_order.address, customer_order.first_name "firstName", currency, total, test, state
     from customer_order where id = $1`,
    [order],
  )
  if (row?.state !== 'paid') return null
  const lines = await linesOf(q, order)
  const money = (amount: number): string => moneyWords({ amount, currency: row.currency })
  const titles = lines.map(({ title }) => title).join(', ')
  return {
    // What a trial writes stays in the house, like what somebody made up gets.
    rehearsal: row.test,
    mail: await letterOf(platform, {
      to: row.address,
      subject: `${row.test ? 'Test: ' : ''}Your order: ${titles}`,
      words: [
        row.firstName ? `Hello ${row.firstName},` : 'Hello,',
        row.total > 0 ? 'thank you for your order. You have paid:' : 'here is what you asked for:',
        lines
          .map(({ title, words, total }) => `${title}: ${row.total > 0 ? money(total) : words}`)
          .join('\n'),
        ...(row.total > 0 ? [`All in all ${money(row.total)}.`] : []),
      ],
      button: {
        label: 'Your order, and the way to it',
        url: `${settings.publicUrl}${orderPath(platform, order)}`,
      },
      after: ['Keep this email: the button leads to what you bought, and to your invoice.'],
    }),
  }
}

/** The email that asks for another card, since the last one did not pay: the work of the job `askForCard`. */
export async function cardEmail(
  platform: Platform,
  { payment }: JobPayload<'askForCard'>,
): Promise<FormEmail | null> {
  const { database: q, settings } = platform
  const row = await q.row<{
    order: number
    address: string
    firstName: string
    currency: string
    total: number
    test: boolean
    state: string
    ended: boolean
  }>(
    `select order_id "order", address, first_name "firstName", currency, payment.total, test, payment.state,
       ended_at is not null ended
     from payment join customer_order on customer_order.id = order_id where payment.id = $1`,
    [payment],
  )
  if (!row || row.state === 'paid') return null
  const titles = (await linesOf(q, row.order)).map(({ title }) => title).join(', ')
  const due = moneyWords({ amount: row.total, currency: row.currency })
  return {
    rehearsal: row.test,
    mail: await letterOf(platform, {
      to: row.address,
      subject: `${row.test ? 'Test: ' : ''}Your card did not pay: ${titles}`,
      words: [
        row.firstName ? `Hello ${row.firstName},` : 'Hello,',
        `we could not take ${due} for ${titles} from your card.`,
        row.ended
          ? 'We do not try any more. With another card you can go on.'
          : 'We try again in a few days. If it is an old card, give us the new one.',
      ],
      button: {
        label: 'Use another card',
        url: `${settings.publicUrl}${orderPath(platform, row.order)}/card`,
      },
      after: ['If you want to stop instead, the same page ends it with one click.'],
    }),
  }
}
