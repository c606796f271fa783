import type { Address } from '../../core/audience/address.ts'
import type { Instant } from '../../core/audience/activity.ts'
import type { MarketingState } from '../../core/audience/permission.ts'
import type { Clock } from '../clock.ts'
import type { Queries } from '../database/connect.ts'
import { notFound } from '../problems.ts'

/** A contact as services see one. */
export interface Contact {
  id: number
  address: string
  firstName: string
  lastName: string
  marketingState: MarketingState
  rehearsal: boolean
  clockAhead: number
}

const columns = `id, address, first_name "firstName", last_name "lastName",
  marketing_state "marketingState", rehearsal, clock_ahead "clockAhead"`

/** The time on a person's own clock: the business's, but in rehearsal. */
export function personNow(clock: Clock, contact: { clockAhead: number }): Instant {
  return clock.now() + contact.clockAhead
}

/** @throws Problem 404 */
export async function contactById(q: Queries, id: number, lock = false): Promise<Contact> {
  const found = await q.row<Contact>(
    `select ${columns} from contact where id = $1 ${lock ? 'for update' : ''}`,
    [id],
  )
  if (!found) throw notFound('This person')
  return found
}

/**
 * Finds the person with this address or makes one; a name that is given replaces the old one.
 * The same address in other letters' case is the same person.
 */
export async function meet(
  q: Queries,
  address: Address,
  firstName: string,
  at: Instant,
): Promise<Contact & { isNew: boolean }> {
  // Who was merged is known under both addresses.
  const merged = await q.row<Contact>(
    `update contact set first_name = coalesce(nullif($2, ''), first_name), updated_at = $3
     where id = (select contact_id from other_address where address_key = $1) returning ${columns}`,
    [address.key, firstName, new Date(at)],
  )
  if (merged) return { ...merged, isNew: false }
  const met = await q.row<Contact & { isNew: boolean }>(
    // xmax is 0 on a row that this statement inserted, and the updating transaction's id otherwise.
    `insert into contact (address, address_key, first_name, created_at, updated_at)
     values ($1, $2, $3, $4, $4)
     on conflict (address_key) do update
       set first_name = coalesce(nullif(excluded.first_name, ''), contact.first_name), updated_at = $4
     returning ${columns}, (xmax = 0) "isNew"`,
    [address.shown, address.key, firstName, new Date(at)],
  )
  if (!met) throw new Error('an upsert returned no row')
  return met
}

export async function setMarketingState(
  q: Queries,
  contact: number,
  state: MarketingState,
  at: Instant,
): Promise<void> {
  await q.rows('update contact set marketing_state = $2, updated_at = $3 where id = $1', [
    contact,
    state,
    new Date(at),
  ])
}
