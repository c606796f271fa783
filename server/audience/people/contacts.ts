import type { Address } from '../../../core/audience/people/address.ts'
import type { Instant, Source } from '../../../core/audience/people/activity.ts'
import type { MarketingState } from '../../../core/audience/people/permission.ts'
import type { Clock } from '../../clock.ts'
import type { Queries } from '../../database/connect.ts'
import { notFound } from '../../http/problems.ts'

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

/**
 * What a transaction is about to do with a person: change them or what is theirs, or take them off the list. Locks of
 * people come before locks of what is theirs (follow-ups, messages), in the order of their ids, so that no two
 * transactions wait for each other. A change lets others write rows that point to the person meanwhile.
 */
export type ContactLock = 'change' | 'remove'
const locks: Record<ContactLock, string> = { change: 'for no key update', remove: 'for update' }

/** @throws Problem 404 */
export async function contactById(q: Queries, id: number, lock?: ContactLock): Promise<Contact> {
  const found = await q.row<Contact>(
    `select ${columns} from contact where id = $1 ${lock ? locks[lock] : ''}`,
    [id],
  )
  if (!found) throw notFound('This person')
  return found
}

/**
 * The person whom a job or a link in old mail speaks of: who was merged lives on in another.
 * @returns nobody when they were erased
 */
export async function survivorOf(q: Queries, id: number, lock?: ContactLock): Promise<Contact | undefined> {
  const find = (): Promise<Contact | undefined> =>
    q.row<Contact>(
      `select ${columns} from contact
       where id = coalesce((select into_id from merged_contact where id = $1), $1) ${lock ? locks[lock] : ''}`,
      [id],
    )
  // Who waited here for a merge finds the person gone, and the entry that tells into whom only at a second look.
  return (await find()) ?? (lock ? await find() : undefined)
}

/**
 * Finds the person with this address, or makes one of whom nothing else is known. The same address in other letters'
 * case is the same person, and so is an earlier address of somebody who was merged. They stay locked for changes.
 */
export async function findOrCreateContact(
  q: Queries,
  address: Address,
  at: Instant,
): Promise<Contact & { isNew: boolean }> {
  const known = (): Promise<Contact | undefined> =>
    q.row<Contact>(
      `select ${columns} from contact where address_key = $1
         or id = (select contact_id from other_address where address_key = $1) ${locks.change}`,
      [address.key],
    )
  const found = await known()
  if (found) return { ...found, isNew: false }
  const made = await q.row<Contact>(
    `insert into contact (address, address_key, created_at, updated_at) values ($1, $2, $3, $3)
     on conflict (address_key) do nothing returning ${columns}`,
    [address.shown, address.key, new Date(at)],
  )
  if (made) return { ...made, isNew: true }
  // Somebody else has just made them.
  const other = await known()
  if (!other) throw new Error('a contact was neither found nor made')
  return { ...other, isNew: false }
}

/** Writes down what somebody typed of themselves where nothing is known yet: what is known stays as it is. */
export async function fillBlanks(
  q: Queries,
  contact: number,
  typed: { firstName: string; source: Source },
): Promise<void> {
  await q.rows(
    `update contact set first_name = coalesce(nullif(first_name, ''), $2),
       source = case when source = '{}' then $3::jsonb else source end where id = $1`,
    [contact, typed.firstName, JSON.stringify(typed.source)],
  )
}

/** Every address that somebody is known by, as keys. */
export async function addressKeysOf(q: Queries, contact: number): Promise<string[]> {
  const rows = await q.rows<{ key: string }>(
    `select address_key key from contact where id = $1
     union all select address_key from other_address where contact_id = $1`,
    [contact],
  )
  return rows.map(({ key }) => key)
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
