import type { Address } from '../../../core/audience/people/address.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
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

export type FoundContact = Contact & { isNew: boolean }

/** What somebody who is made is known by at once: written later, each of it would change all their indexes again. */
export interface NewContact {
  firstName?: string
  lastName?: string
  phone?: string
  country?: string
  fields: Readonly<Record<number, FieldValue>>
  source: Source
  marketingState: MarketingState
}

const nothingKnown: NewContact = { fields: {}, source: {}, marketingState: 'neverAsked' }

interface LookedUp extends FoundContact {
  key: string
  /** Their earlier addresses. */
  others: string[]
}

/** Locks the people of `$1`, the keys of addresses. One `or` over both tables would read every person: 100 ms of 100,000. */
const lockKnown = `select ${columns}, address_key key,
    to_json(array(select address_key from other_address where contact_id = contact.id)) others, false "isNew"
  from contact where id = any(array(
    select id from contact where address_key = any($1)
    union all select contact_id from other_address where address_key = any($1)))
  order by id ${locks.change}`

/** The same, and makes those whom nobody knows, of `$2` at `$3`, in one statement. */
const lockOrMake = `with found as (${lockKnown}), made as (
    insert into contact (address, address_key, first_name, last_name, phone, country, fields, source, marketing_state,
      created_at, updated_at)
    select shown, key, first_name, last_name, phone, country, fields, source, state, $3, $3
    from jsonb_to_recordset($2::jsonb) wanted (n integer, shown text, key text, first_name text, last_name text,
      phone text, country text, fields jsonb, source jsonb, state text)
    where not exists (select from found where found.key = wanted.key or found.others::jsonb ? wanted.key) order by n
    on conflict (address_key) do nothing returning ${columns}, address_key key)
  select * from found union all
  select id, address, "firstName", "lastName", "marketingState", rehearsal, "clockAhead", key, '[]', true from made`

/**
 * Finds the people with these addresses, or makes them, of whom is known what is given besides. The same address in
 * other letters' case is the same person, and so is an earlier address of somebody who was merged. They stay locked
 * for changes, in the order of their ids; new ones are made in the order of their addresses.
 * @returns the people in the order of the addresses
 */
export async function findOrCreateContacts(
  q: Queries,
  wanted: readonly { address: Address; known?: NewContact }[],
  at: Instant,
): Promise<FoundContact[]> {
  if (wanted.length === 0) return []
  const keys = wanted.map(({ address }) => address.key)
  const contacts = new Map<string, FoundContact>()
  const keep = (rows: readonly LookedUp[]): void => {
    for (const { key, others, ...contact } of rows)
      for (const each of [key, ...others]) if (!contacts.has(each)) contacts.set(each, contact)
  }
  const rows = [...wanted]
    .sort(({ address: a }, { address: b }) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0))
    .map(({ address, known = nothingKnown }, n) => ({
      n,
      ...address,
      first_name: known.firstName ?? '',
      last_name: known.lastName ?? '',
      phone: known.phone ?? null,
      country: known.country ?? null,
      fields: known.fields,
      source: known.source,
      state: known.marketingState,
    }))
  keep(await q.rows<LookedUp>(lockOrMake, [keys, JSON.stringify(rows), new Date(at)]))
  // Somebody else has just made the others.
  const missing = keys.filter((key) => !contacts.has(key))
  if (missing.length > 0) keep(await q.rows<LookedUp>(lockKnown, [missing]))
  return keys.map((key) => {
    const contact = contacts.get(key)
    if (!contact) throw new Error('a contact was neither found nor made')
    return contact
  })
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
