import type { Instant } from '../../core/audience/people/activity.ts'
import type { Queries } from '../../server/database/connect.ts'
import type { Person } from '../person.ts'
import { createTag } from './create.ts'
import type { Pictures } from './pictures.ts'
import { setTakes } from '../../server/commerce/orders.ts'
import { makeProducts, type ProductKey } from './products.ts'

const hour = 3_600_000
const day = 24 * hour
const month = 30 * day

export interface Shop {
  guide: number
  course: number
  /** Everything that is sold, by its name in the story. */
  products: Record<ProductKey, number>
  /** Until then the course costs less. */
  introductoryUntil: Instant
  /** Who has bought anything. */
  buyer: number
  journalBuyer: number
  circleMember: number
}

export async function make(
  q: Queries,
  given: { pictures: Pictures; templates: number; journal: number },
  at: Date,
): Promise<Shop> {
  const tags = {
    buyer: await createTag(q, 'Buyer', 'Has bought anything', at),
    journalBuyer: await createTag(q, 'Journal buyer', 'Has bought Bind Your First Journal', at),
    circleMember: await createTag(q, 'Circle member', 'Is in the Bindery Circle', at),
  }
  const introductoryUntil = at.getTime() + 45 * day
  const products = await makeProducts(q, { ...given, tags, introductoryUntil }, at)
  const { guide, course } = products
  await setTakes(q, 'live')
  return { guide, course, products, introductoryUntil, ...tags }
}

function buy(person: Person, { buyer }: Shop, product: number, amount: number, at: Instant): void {
  if (
    person.did({ kind: 'productBought', at, details: { product, amount, currency: 'EUR' } }) &&
    !person.hasTag(buyer)
  )
    person.addTag(buyer, at + 1000, 'order')
}

/** Buys the course; of those who do, some come into the Circle two weeks later. */
function join(person: Person, shop: Shop, at: Instant): void {
  buy(person, shop, shop.course, at < shop.introductoryUntil ? 4900 : 7900, at)
  if (at > person.now) return
  person.addTag(shop.journalBuyer, at + 2000, 'order')
  const later = at + 14 * day
  if (Math.floor(at / 1000) % 3 === 0 && later <= person.now) person.addTag(shop.circleMember, later, 'order')
}

/** Buys the small thing soon, and the course the likelier the more they clicked and visited: the score has something to find. */
export function live(person: Person, shop: Shop): void {
  const { chance, arrival, now } = person
  if (chance.flip(0.03 + person.keen * 0.06))
    buy(person, shop, shop.guide, 700, arrival + chance.delay(3 * hour))
  const visits = person.all('pageVisited').length
  const warmth = 0.004 + 0.018 * person.all('emailClicked').length + 0.03 * Math.min(visits, 3)
  for (let n = 0; arrival + n * month < now; n += 1)
    if (chance.flip(warmth / (1 + n * 0.4))) {
      join(person, shop, arrival + n * month + chance.delay(8 * day))
      break
    }
}
