import { moneyWords } from '../../core/commerce/money.ts'
import { dayWords } from '../../core/commerce/payments.ts'
import { letterOf, type FormEmail } from '../capture/formEmails.ts'
import type { Queries } from '../database/connect.ts'
import { readerMark } from '../pages/readers.ts'
import type { Platform } from '../platform.ts'
import type { JobPayload } from '../work/jobs.ts'
import { linesOf, paidWords, titlesOf, type OrderLine } from './orderLines.ts'
import { orderPath } from './orderLinks.ts'
import { getSelling } from './selling.ts'

/** An order as mail about it is addressed and called. */
interface Addressed {
  id: number
  address: string
  firstName: string
  contact: number | null
  currency: string
  total: number
  state: string
  test: boolean
  ended: boolean
}

async function addressedOf(
  q: Queries,
  order: number,
): Promise<(Addressed & { lines: OrderLine[] }) | undefined> {
  const row = await q.row<Addressed>(
    `select id, address, first_name "firstName", contact_id contact, currency, total, state, test, ended_at is not null ended
     from customer_order where id = $1 and address <> ''`,
    [order],
  )
  return row && { ...row, lines: await linesOf(q, order) }
}

/** What a letter about an order says. */
interface AboutOrder {
  subject: string
  words: string[]
  button: { label: string; path: string }
  after: string[]
}

/** A letter about an order. What a trial writes stays in the house, like what somebody made up gets. */
async function letterAbout(
  platform: Platform,
  { address, firstName, test }: Addressed,
  { subject, words, button, after }: AboutOrder,
): Promise<FormEmail> {
  return {
    rehearsal: test,
    mail: await letterOf(platform, {
      to: address,
      subject: test ? `Test: ${subject}` : subject,
      words: [firstName ? `Hello ${firstName},` : 'Hello,', ...words],
      button: { label: button.label, url: `${platform.settings.publicUrl}${button.path}` },
      after,
    }),
  }
}

/** The receipt of an order, with the way to its page: the work of the job `sendReceipt`. */
export async function receiptEmail(
  platform: Platform,
  { order }: JobPayload<'sendReceipt'>,
): Promise<FormEmail | null> {
  const found = await addressedOf(platform.database.prepared, order)
  if (found?.state !== 'paid') return null
  const { lines, currency, total, contact } = found
  const money = (amount: number): string => moneyWords({ amount, currency })
  // Whoever reads it holds the mailbox: pages for buyers know them by the link.
  const mark = contact === null ? '' : `?me=${readerMark(platform, contact)}`
  return letterAbout(platform, found, {
    subject: `Your order: ${titlesOf(lines)}`,
    words: [
      total > 0 ? 'thank you for your order. You have paid:' : 'here is what you asked for:',
      lines.map((line) => `${line.title}: ${paidWords(line, found)}`).join('\n'),
      ...(total > 0 ? [`All in all ${money(total)}.`] : []),
    ],
    button: { label: 'Your order, and the way to it', path: `${orderPath(platform, order)}${mark}` },
    after: ['Keep this email: the button leads to what you bought, and to your invoice.'],
  })
}

/** The email that asks for another card, since the last one did not pay: the work of the job `askForCard`. */
export async function cardEmail(
  platform: Platform,
  { payment }: JobPayload<'askForCard'>,
): Promise<FormEmail | null> {
  const q = platform.database
  const due = await q.row<{ order: number; total: number; state: string }>(
    'select order_id "order", total, state from payment where id = $1',
    [payment],
  )
  const found = due && due.state !== 'paid' ? await addressedOf(q, due.order) : undefined
  if (!due || !found) return null
  const titles = titlesOf(found.lines)
  return letterAbout(platform, found, {
    subject: `Your card did not pay: ${titles}`,
    words: [
      `we could not take ${moneyWords({ amount: due.total, currency: found.currency })} for ${titles} from your card.`,
      found.ended
        ? 'We do not try any more. With another card you can go on.'
        : 'We try again in a few days. If it is an old card, give us the new one.',
    ],
    button: { label: 'Use another card', path: `${orderPath(platform, due.order)}/card` },
    after: ['If you want to stop instead, the same page ends it with one click.'],
  })
}

/** The email that tells what a subscription costs from now on: the work of the job `tellPrice`. */
export async function priceEmail(
  platform: Platform,
  { order, before, after, from }: JobPayload<'tellPrice'>,
): Promise<FormEmail | null> {
  const found = await addressedOf(platform.database.prepared, order)
  if (found?.state !== 'paid' || found.ended) return null
  const titles = titlesOf(found.lines)
  const { zone } = await getSelling(platform.database)
  const day = dayWords(from, zone)
  return letterAbout(platform, found, {
    subject: `${titles}: another price from ${day}`,
    words: [`from ${day} on, ${titles} costs ${after} each time. Until then it is ${before}.`],
    button: { label: 'Card, pause or end', path: `${orderPath(platform, order)}/card` },
    after: ['If you do not want to go on at this price, the same page ends it with one click.'],
  })
}
