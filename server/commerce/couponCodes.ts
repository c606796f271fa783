import { randomInt } from 'node:crypto'
import type { Instant } from '../../core/audience/people/activity.ts'
import { coupon as couponShape, couponState } from '../../core/commerce/coupon.ts'
import { spanEnds } from '../../core/followups/waiting.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'

/** Letters and digits that nobody mistakes for others. */
const signs = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'
const codeLength = 8

/** A code that nobody guesses: 31 to the power of 8, and guessing is slowed. */
const freshCode = (of: string): string =>
  `${of.slice(0, 21)}-${Array.from({ length: codeLength }, () => signs[randomInt(signs.length)]).join('')}`

/** A code that somebody is to have of a coupon, by the coupon's own code. */
export interface WantedCode {
  contact: number
  coupon: string
  at: Instant
}

/** Makes codes for people; who has one of a coupon keeps it. Coupons that make none are passed over. */
export async function makeCodes(q: Queries, wanted: readonly WantedCode[]): Promise<void> {
  const { zone } = await getBusiness(q)
  const rows = await q.rows<{ id: number; content: unknown }>(
    'select id, content from coupon where code = any($1)',
    [wanted.map(({ coupon }) => coupon.trim().toUpperCase())],
  )
  const coupons = new Map(
    rows.map(({ id, content }) => {
      const read = couponShape.parse(content)
      return [read.code, { ...read, id }]
    }),
  )
  const made = wanted.flatMap(({ contact, coupon, at }) => {
    const of = coupons.get(coupon.trim().toUpperCase())
    if (!of?.each) return []
    const { lasts } = of.each
    return [
      {
        code: freshCode(of.code),
        coupon: of.id,
        contact,
        at: new Date(at),
        ends: lasts && new Date(spanEnds(lasts, at, zone)),
      },
    ]
  })
  await q.rows(
    `insert into coupon_code (code, coupon_id, contact_id, made_at, ends_at)
     select * from unnest($1::text[], $2::bigint[], $3::bigint[], $4::timestamptz[], $5::timestamptz[])
     on conflict do nothing`,
    [
      made.map(({ code }) => code),
      made.map(({ coupon }) => coupon),
      made.map(({ contact }) => contact),
      made.map(({ at }) => at),
      made.map(({ ends }) => ends),
    ],
  )
}

/** The codes of the coupons that make one for each person. */
export const ownCoupons = async (q: Queries): Promise<string[]> =>
  (await q.rows<{ code: string }>(`select code from coupon where content->'each' <> 'null' order by 1`)).map(
    ({ code }) => code,
  )

/** The newest code of each of these people that can be used at their time; who has none is not among them. */
export async function openCodesOf(
  q: Queries,
  people: readonly { contact: number; now: Instant }[],
): Promise<Map<number, string>> {
  const rows = await q.rows<{ contact: number; code: string; content: unknown; now: Date }>(
    `select contact_id contact, made.code, content, now from coupon_code made join coupon on coupon.id = coupon_id
     join unnest($1::bigint[], $2::timestamptz[]) person (id, now) on person.id = contact_id
     where content->'each' <> 'null' and (ends_at is null or ends_at > now)
       and not exists (select from coupon_use join customer_order on customer_order.id = order_id
         where coupon_use.coupon_id = coupon.id and customer_order.contact_id = made.contact_id)
     order by made_at, made.code`,
    [people.map(({ contact }) => contact), people.map(({ now }) => new Date(now))],
  )
  return new Map(
    rows
      .filter(({ content, now }) => couponState(couponShape.parse(content), now.getTime()) === 'open')
      .map(({ contact, code }) => [contact, code]),
  )
}
