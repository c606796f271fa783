import type { z } from 'zod'
import type { Instant } from '../../core/audience/people/activity.ts'
import { coupon, type Coupon } from '../../core/commerce/coupon.ts'
import { productContent } from '../../core/commerce/product.ts'
import type { Queries } from '../../server/database/connect.ts'
import { createCoupon } from '../../server/commerce/coupons.ts'
import { productDrafts } from '../../server/commerce/productDrafts.ts'
import { createProduct } from '../../server/commerce/products.ts'
import { saveTax } from '../../server/commerce/selling.ts'
import { signInOf } from '../accounts.ts'
import { createFile, makeEach } from './create.ts'
import { fieldGuide } from './fieldGuide.ts'
import type { Pictures } from './pictures.ts'

/** What the products of the story bring, by id. */
export interface Brought {
  pictures: Pictures
  templates: number
  /** The lessons of the course that is sold. */
  journal: number
  introductoryUntil: Instant
  tags: Record<'buyer' | 'journalBuyer' | 'circleMember', number>
}

type Given = z.input<typeof productContent>
const month = { count: 1, unit: 'month' } as const
const tag = (id: number) => ({ does: 'addTag' as const, tag: id })

/** Everything that the bindery sells. Two products cost the same on purpose: nobody is told apart by what they paid. */
function contents({ pictures, templates, journal, tags, introductoryUntil }: Brought, guide: number) {
  const buyer = tag(tags.buyer)
  return {
    guide: {
      title: 'Thread & Needle Field Guide',
      description: 'Which thread for which book, and how to wax it. PDF, for the bench or a phone.',
      pictures: [pictures.pamphlet],
      brings: [{ does: 'sendFile', file: guide }, buyer],
      prices: [{ id: 'guideonce', pays: { by: 'once', amount: 700 } }],
    },
    course: {
      title: 'Bind Your First Journal',
      description: 'Six lessons from a stack of paper to a sewn journal, at your own pace.',
      pictures: [pictures.journal],
      brings: [{ does: 'openCourse', course: journal }, tag(tags.journalBuyer), buyer],
      prices: [
        {
          id: 'courseonce',
          name: 'All at once',
          pays: { by: 'once', amount: 7_900 },
          introductory: { amount: 4_900, first: 40, until: new Date(introductoryUntil).toISOString() },
        },
        {
          id: 'coursethree',
          name: 'In three payments',
          pays: { by: 'payments', amount: 8_700, payments: 3, every: month },
        },
      ],
    },
    cards: {
      title: 'Grain & Fold Cards',
      description: 'Twelve printed cards that tell paper grain and folds by touch. Sent by post.',
      pictures: [pictures.grain],
      brings: [buyer],
      bringsNothing: true,
      prices: [{ id: 'cardsonce', pays: { by: 'once', amount: 1_200 } }],
    },
    workshop: {
      title: 'Leather Case Workshop',
      description: 'An afternoon at the bench in Dublin, with leather, boards and tools.',
      pictures: [pictures.caseBound],
      brings: [buyer, { does: 'notifyTeam' }],
      bringsNothing: true,
      prices: [{ id: 'workshoponce', pays: { by: 'once', amount: 14_900 }, places: 12 }],
    },
    templates: {
      title: 'Case Templates',
      description: 'Printable templates for cases of three sizes. PDF.',
      pictures: [pictures.caseBound],
      brings: [{ does: 'sendFile', file: templates }, buyer],
      prices: [{ id: 'templatesonce', pays: { by: 'once', amount: 2_900 } }],
    },
    circle: {
      title: 'Bindery Circle',
      description: 'A new pattern each month, and the bench on Sundays.',
      pictures: [pictures.atelier],
      brings: [tag(tags.circleMember), buyer],
      bringsNothing: true,
      prices: [
        { id: 'circlemonth', pays: { by: 'subscription', amount: 1_500, every: month, trialDays: 14 } },
      ],
    },
  } satisfies Record<string, Given>
}
type SingleKey = keyof ReturnType<typeof contents>
export type ProductKey = SingleKey | 'set'

/** Two of them by one price. */
const setOf = ({ guide, templates }: Record<SingleKey, number>, { pictures }: Brought) =>
  ({
    title: 'Case Set',
    description: 'The case templates and the field guide together.',
    pictures: [pictures.caseBound],
    prices: [{ id: 'setonce', pays: { by: 'once', amount: 3_300 }, products: [templates, guide] }],
  }) satisfies Given

/** VAT of a few countries where readers live, as Mara has set it (standard rates, from memory). */
const rates = [
  { country: 'IE', rate: 2_300 },
  { country: 'DE', rate: 1_900 },
  { country: 'NL', rate: 2_100 },
  { country: 'FR', rate: 2_000 },
]

/** Sets the tax, puts everything on sale, and hands out coupons. @returns the ids */
export async function makeProducts(
  q: Queries,
  brought: Brought,
  at: Date,
): Promise<Record<ProductKey, number>> {
  await saveTax(q, { tax: 'inside', home: 'IE', rates })
  const file = await createFile(q, 'Thread & Needle Field Guide.pdf', await fieldGuide(at), at)
  const doing = { by: signInOf.name, at }
  async function sell(given: Given): Promise<number> {
    const content = productContent.parse(given)
    const id = await createProduct(q, { name: content.title, content }, doing)
    await productDrafts.publish(q, id, { version: 1, revision: 1 }, doing)
    return id
  }
  const single = await makeEach<SingleKey, Given>(contents(brought, file), sell)
  const ids = { ...single, set: await sell(setOf(single, brought)) }
  const codes: Coupon[] = [
    coupon.parse({
      code: 'FIRST-BOOK',
      off: { by: 'amount', amount: 1_000 },
      products: [ids.course],
      usesEach: 1,
    }),
    coupon.parse({
      code: 'COME-BACK',
      off: { by: 'percent', percent: 15 },
      each: { lasts: { amount: 3, unit: 'days' } },
    }),
    coupon.parse({ code: 'BENCH-20', off: { by: 'percent', percent: 20 }, uses: 200 }),
  ]
  for (const each of codes) await createCoupon(q, each, doing)
  return ids
}
