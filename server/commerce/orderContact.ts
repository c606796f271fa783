import { parseAddress } from '../../core/audience/people/address.ts'
import { findOrCreateContacts, survivorOf, type Contact } from '../audience/people/contacts.ts'
import { addressHash } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'

interface Row {
  contact: number | null
  address: string
  firstName: string
  lastName: string
  total: number
  test: boolean
}

const rowOf = (q: Queries, order: number): Promise<Row | undefined> =>
  q.row<Row>(
    `select contact_id contact, address, first_name "firstName", last_name "lastName", total, test
     from customer_order where id = $1`,
    [order],
  )

/** Whose order it is, locked for changes: whoever was merged lives on in another. Nobody, where nobody is known. */
export async function contactOfOrder(q: Queries, order: number): Promise<Contact | null> {
  const row = await rowOf(q, order)
  return row?.contact == null ? null : ((await survivorOf(q, row.contact, 'change')) ?? null)
}

/**
 * The same of an order that is paid: whoever buys comes onto the list, also who was taken off it. But for what costs
 * nothing no address comes back that must not: anybody may have typed it. Nobody, of a trial.
 */
export async function buyerOfOrder(
  { clock, settings }: Platform,
  q: Queries,
  order: number,
): Promise<Contact | null> {
  const known = await contactOfOrder(q, order)
  const row = known ? undefined : await rowOf(q, order)
  const address = row && !row.test ? parseAddress(row.address) : null
  if (!row || !address) return known
  const hash = addressHash(settings.secret, address.key)
  const isSuppressed = await q.row('select from suppression where address_hash = $1', [hash])
  if (isSuppressed && row.total === 0) return null
  const { firstName, lastName } = row
  const [made] = await findOrCreateContacts(
    q,
    [{ address, known: { firstName, lastName, fields: {}, source: {}, marketingState: 'neverAsked' } }],
    clock.now(),
  )
  if (made) await q.rows('update customer_order set contact_id = $2 where id = $1', [order, made.id])
  return made ?? null
}
