import { createHash } from 'node:crypto'
import { isDeepStrictEqual } from 'node:util'
import type { Source } from '../../core/audience/people/activity.ts'
import type { Address } from '../../core/audience/people/address.ts'
import type { CartItem } from '../../core/commerce/cart.ts'
import { findOrCreateContacts, personNow, type FoundContact } from '../audience/people/contacts.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { addressHash } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { randomToken } from '../signing.ts'
import { agreeAtOrder, type Agreed } from './agreeing.ts'

/** A cart can be gone on with for so long. */
const cartLasts = 90 * 86_400_000

/** What the address of a cart says: nothing of whose it is. */
export interface CartToken {
  token: string
  /** Tells this cart from others; null when the link names it by its number. */
  name: string | null
  id: number | null
}

const made = (token: string, name: string | null, id: number | null): CartToken => ({ token, name, id })

/** A new cart, of which nothing is kept until somebody says who they are. */
export function beginCart({ signer, clock }: Platform): CartToken {
  const name = randomToken()
  return made(signer.sign('cart', [name, clock.now()]), name, null)
}

/** The link that brings a cart back on any device, for mail to whoever filled it. */
export const cartLink = ({ signer, clock }: Platform, id: number): CartToken =>
  made(signer.sign('cart link', [id, clock.now()]), null, id)

/** @returns null when the token was not made here, or is too old */
export function readCart({ signer, clock }: Platform, token: string): CartToken | null {
  const [name, at] = signer.open('cart', token) ?? []
  if (name !== undefined) return clock.now() - Number(at) > cartLasts ? null : made(token, name, null)
  const [id, madeAt] = signer.open('cart link', token) ?? []
  return id === undefined || clock.now() - Number(madeAt) > cartLasts ? null : made(token, null, Number(id))
}

/** What is kept of a cart. */
export interface Cart {
  id: number
  page: number | null
  block: string
  contact: number | null
  address: string
  addressKey: string
  firstName: string
  lastName: string
  phone: string | null
  trusted: boolean
  rehearsal: boolean
  agreed: Agreed | null
  items: CartItem[]
  country: string | null
  vatNumber: string | null
  coupon: string | null
  terms: string | null
  cardSession: string
  orderedAt: Date | null
  /** How far the clock of whose it is runs ahead (ms). */
  clockAhead: number
}

const columns = `id, page_id page, block, contact_id contact, address, address_key "addressKey", first_name "firstName", last_name "lastName",
  phone, trusted, rehearsal, agreed, items, country, vat_number "vatNumber", coupon, terms, card_session "cardSession",
  ordered_at "orderedAt", coalesce((select clock_ahead from contact where contact.id = contact_id), 0) "clockAhead"`

const hashOf = (text: string): Buffer => createHash('sha256').update(text).digest()

/** Where the card of a cart is typed, before anything is kept of it. */
export const sessionOf = ({ name, id }: CartToken): string =>
  hashOf(`card of ${name ?? id}`).toString('base64url')

/** What was kept under this token; null before the address was typed. @param lock until the transaction ends */
export async function cartOf(q: Queries, { name, id }: CartToken, lock = false): Promise<Cart | null> {
  const row = await q.prepared.row<Cart>(
    `select ${columns} from cart where token_hash = $1 or id = $2 ${lock ? 'for update' : ''}`,
    [name === null ? null : hashOf(name), id],
  )
  return row ?? null
}

/** What somebody said of themselves in an order form. */
export interface Buyer {
  address: Address
  firstName: string
  lastName: string
  phone: string | null
  agreed: Agreed | null
}

export interface KeptCart extends Pick<
  Cart,
  'block' | 'items' | 'country' | 'vatNumber' | 'coupon' | 'terms'
> {
  page: number
  pageName: string
  source: Source
  ip: string | null
  /** Who is at the form, when they came by a link of their own mail, or this browser has just put them on the list. */
  own: number | null
  /** Nobody is put on the list by a trial, unless they are made up themselves. */
  test: boolean
}

/** May somebody be put on the list, or found on it, by an address that was typed? */
async function contactFor(
  { settings, clock }: Platform,
  q: Queries,
  { address, firstName, lastName, phone, agreed }: Buyer,
  { source, test, country }: KeptCart,
): Promise<FoundContact | null> {
  const known = await q.row<{ id: number; rehearsal: boolean }>(
    'select id, rehearsal from contact where address_key = $1',
    [address.key],
  )
  if (test && !known?.rehearsal) return null
  const hash = addressHash(settings.secret, address.key)
  if (await q.row('select from suppression where address_hash = $1', [hash])) return null
  const [contact] = await findOrCreateContacts(
    q,
    [
      {
        address,
        known: {
          firstName,
          lastName,
          ...(phone !== null && { phone }),
          ...(country !== null && { country }),
          fields: {},
          source,
          marketingState: agreed ? 'subscribed' : 'neverAsked',
        },
      },
    ],
    clock.now(),
  )
  return contact ?? null
}

/**
 * Keeps who is about to buy, and what: from the address on. Whoever is new is put on the list; of somebody known
 * nothing changes, since anybody may have typed their address.
 * @returns the cart as it is then
 */
export async function keepBuyer(
  platform: Platform,
  q: Queries,
  token: CartToken,
  buyer: Buyer,
  kept: KeptCart,
): Promise<Cart> {
  const found = await contactFor(platform, q, buyer, kept)
  // As somebody made up buys who came by their mark; their address alone makes nobody's order a trial.
  const contact = found?.rehearsal && found.id !== kept.own && !kept.test ? null : found
  const now = platform.clock.now()
  const at = contact ? personNow(platform.clock, contact) : now
  if (contact?.isNew) {
    await recordActivities(q, [{ contact: contact.id, kind: 'contactAdded', at, details: { by: 'order' } }])
    if (buyer.agreed)
      await agreeAtOrder(q, {
        contact: contact.id,
        agreed: buyer.agreed,
        at,
        place: kept.pageName,
        ip: kept.ip,
      })
  }
  const isOwn = contact !== null && contact.id === kept.own
  const row = await q.row<Cart>(
    `insert into cart (token_hash, page_id, block, contact_id, address, address_key, first_name, last_name, phone, trusted,
       rehearsal, agreed, items, country, vat_number, coupon, terms, source, card_session, began_at, changed_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $20)
     on conflict (token_hash) do update set contact_id = excluded.contact_id, address = excluded.address,
       address_key = excluded.address_key, first_name = excluded.first_name, last_name = excluded.last_name,
       phone = excluded.phone, trusted = excluded.trusted or (cart.trusted and cart.contact_id = excluded.contact_id),
       rehearsal = excluded.rehearsal, agreed = excluded.agreed, items = excluded.items, country = excluded.country,
       vat_number = excluded.vat_number, coupon = excluded.coupon, terms = excluded.terms, changed_at = excluded.changed_at
     returning ${columns}`,
    [
      hashOf(token.name ?? ''),
      kept.page,
      kept.block,
      contact?.id ?? null,
      buyer.address.shown,
      buyer.address.key,
      buyer.firstName,
      buyer.lastName,
      buyer.phone,
      isOwn || (contact?.isNew ?? false),
      contact?.rehearsal ?? false,
      buyer.agreed && JSON.stringify(buyer.agreed),
      JSON.stringify(kept.items),
      kept.country,
      kept.vatNumber,
      kept.coupon,
      kept.terms,
      JSON.stringify(kept.source),
      sessionOf(token),
      new Date(at),
    ],
  )
  if (!row) throw new Error('an insert returned no row')
  return row
}

/** What can be chosen otherwise, whosever cart it is. */
type Chosen = Pick<Cart, 'items' | 'country' | 'vatNumber' | 'coupon' | 'terms'>

const chosenOf = ({ items, country, vatNumber, coupon, terms }: Chosen): Chosen => ({
  items,
  country,
  vatNumber,
  coupon,
  terms,
})

/** Is this what a cart that can still be ordered holds? */
export const isKept = (cart: Cart, chosen: Chosen): boolean =>
  cart.orderedAt === null && isDeepStrictEqual(chosenOf(cart), chosenOf(chosen))

/** Keeps what is wanted; whose cart it is stays. */
export async function changeCart(
  { clock }: Platform,
  q: Queries,
  cart: number,
  { items, country, vatNumber, coupon, terms }: Chosen,
): Promise<Cart | null> {
  const row = await q.row<Cart>(
    `update cart set items = $2, country = $3, vat_number = $4, coupon = $5, terms = $6,
       changed_at = $7::timestamptz + interval '1 millisecond' * coalesce((select clock_ahead from contact where id = contact_id), 0)
     where id = $1 and ordered_at is null returning ${columns}`,
    [cart, JSON.stringify(items), country, vatNumber, coupon, terms, new Date(clock.now())],
  )
  return row ?? null
}
