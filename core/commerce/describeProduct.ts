import { canonical } from '../blocks/canonical.ts'
import { priceName } from './priceWords.ts'
import type { ProductContent } from './product.ts'

const parts: readonly { keys: readonly (keyof ProductContent)[]; words: string }[] = [
  { keys: ['title'], words: 'Changed the name that buyers read' },
  { keys: ['description'], words: 'Changed the description' },
  { keys: ['pictures'], words: 'Changed the pictures' },
  { keys: ['brings', 'bringsNothing'], words: 'Changed what buyers get' },
  { keys: ['after'], words: 'Changed where buyers go after paying' },
  { keys: ['taxed'], words: 'Changed whether it is taxed' },
]

/** What is different from the version before, in words. */
export function describeProductChanges(
  before: ProductContent,
  after: ProductContent,
  currency: string,
): string[] {
  const isOther = (a: unknown, b: unknown): boolean => canonical(a) !== canonical(b)
  const old = new Map(before.prices.map((price) => [price.id, price]))
  const ids = new Set(after.prices.map(({ id }) => id))
  const kept = after.prices.filter(({ id }) => old.has(id))
  const name = (price: ProductContent['prices'][number]): string =>
    `the price “${priceName(price, currency)}”`
  return [
    ...after.prices.filter(({ id }) => !old.has(id)).map((price) => `Added ${name(price)}`),
    ...before.prices.filter(({ id }) => !ids.has(id)).map((price) => `Deleted ${name(price)}`),
    ...kept.filter((price) => isOther(price, old.get(price.id))).map((price) => `Changed ${name(price)}`),
    ...(isOther(
      before.prices.flatMap(({ id }) => (ids.has(id) ? [id] : [])),
      kept.map(({ id }) => id),
    )
      ? ['Changed the order of the prices']
      : []),
    ...parts
      .filter(({ keys }) => keys.some((key) => isOther(before[key], after[key])))
      .map(({ words }) => words),
  ]
}
