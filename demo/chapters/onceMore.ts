import { deadline } from '../../core/commerce/deadline.ts'
import { createDeadline } from '../../server/commerce/deadlines.ts'
import type { Queries } from '../../server/database/connect.ts'
import { signInOf } from '../accounts.ts'
import { compose } from '../composer.ts'
import { createPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'

const { block, text, section } = compose

/** What the personal deadlines of the story are called. */
export const deadlines = { once: 'Workshop, once more', introductory: 'Introductory price' } as const

/** The workshop once more, for who did not take it after their order: its page, and for how long it is open. */
export async function make(
  q: Queries,
  { pictures, workshop, thanks }: { pictures: Pictures; workshop: number; thanks: number },
  at: Date,
): Promise<number> {
  const doing = { by: signInOf.name, at }
  await createDeadline(
    q,
    deadline.parse({
      name: deadlines.once,
      begins: 'visit',
      runs: { by: 'length', lasts: { amount: 14, unit: 'minutes' } },
      afterwards: { to: 'page', page: thanks },
    }),
    doing,
  )
  await createDeadline(q, deadline.parse({ name: deadlines.introductory, begins: 'followup' }), doing)
  return createPage(
    q,
    {
      path: 'first-journal/once-more',
      name: 'First Journal: one more look',
      purpose: 'order',
      title: 'The workshop, once more',
      deadline: deadlines.once,
      sections: [
        section([
          {
            share: 4,
            blocks: [
              block('heading', { level: 1, words: 'The afternoon with leather, once more' }),
              block('countdown', {
                deadline: deadlines.once,
                words: 'Open for you for',
                after: 'This offer is over.',
              }),
              text('You have seen it after your order. Here it is once more, and then no more.'),
              block('orderForm', {
                offers: [{ product: workshop, price: null }],
                label: 'Keep me a place',
                trust: 'Your card details go to the card service alone; we never see them.',
              }),
            ],
          },
          { share: 3, blocks: [block('picture', { picture: pictures.caseBound, alt: altOf('caseBound') })] },
        ]),
      ],
    },
    at,
  )
}

/** Who has had that second look in the last months, and somebody who has it open just now. */
export async function storeLooks(q: Queries, course: number, now: number): Promise<void> {
  await q.rows(
    `insert into personal_deadline (contact_id, offer, ends_at)
     select contact_id, $2, case when n = 1 then $3::timestamptz + interval '12 minutes'
       else paid_at + interval '29 minutes' + (contact_id % 300) * interval '1 minute' end
     from (select contact_id, max(paid_at) paid_at, row_number() over (order by max(paid_at) desc) n
       from customer_order join order_line on order_id = customer_order.id
       where product_id = $1 and contact_id is not null group by contact_id) buyer
     where n = 1 or (contact_id % 3 = 0 and paid_at > $3::timestamptz - interval '120 days'
       and paid_at < $3::timestamptz - interval '8 hours')`,
    [course, deadlines.once, new Date(now)],
  )
}
