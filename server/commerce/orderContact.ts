import { parseAddress } from '../../core/audience/people/address.ts'
import { findOrCreateContacts, survivorOf, type Contact } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'

interface Row {
  contact: number | null
  address: string
  firstName: string
  lastName: string
  test: boolean
}

/**
 * Whose order it is, locked for changes: whoever was merged lives on in another, and who was taken off the list
 * meanwhile comes back, since they buy. Nobody, of a trial.
 */
export async function contactOfOrder(
  { clock }: Platform,
  q: Queries,
  order: number,
): Promise<Contact | null> {
  const row = await q.row<Row>(
    `select contact_id contact, address, first_name "firstName", last_name "lastName", test
     from customer_order where id = $1`,
    [order],
  )
  if (!row) return null
  const known = row.contact === null ? undefined : await survivorOf(q, row.contact, 'change')
  if (known || row.test) return known ?? null
  const address = parseAddress(row.address)
  if (!address) return null
  const [made] = await findOrCreateContacts(
    q,
    [
      {
        address,
        known: {
          firstName: row.firstName,
          lastName: row.lastName,
          fields: {},
          source: {},
          marketingState: 'neverAsked',
        },
      },
    ],
    clock.now(),
  )
  if (made) await q.rows('update customer_order set contact_id = $2 where id = $1', [order, made.id])
  return made ?? null
}
