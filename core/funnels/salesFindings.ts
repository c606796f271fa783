import { walk } from '../blocks/walk.ts'
import { placeOf, tracksOf, type CheckedPage, type CheckedStation, type Say } from './checkedLine.ts'

/** What a page sells by its order forms, and what it offers after paying. */
function soldBy({ content }: CheckedPage): { sold: Set<number>; offered: Set<number> } {
  const found = { sold: new Set<number>(), offered: new Set<number>() }
  for (const { block } of walk(content.document)) {
    if (block.kind === 'orderForm')
      for (const { product } of block.offers) if (product !== null) found.sold.add(product)
    if (block.kind === 'nextOffer' && block.offer.product !== null) found.offered.add(block.offer.product)
  }
  return found
}

/**
 * An offer after paying needs a second product: one that the order pages before it sell is what buyers have by then,
 * and nobody would ever see it.
 */
export function saySales(page: CheckedPage, line: readonly CheckedStation[], place: number, say: Say): void {
  const before = line.slice(0, place).flatMap(tracksOf).map(soldBy)
  const sold = before.map((each) => each.sold).filter(({ size }) => size > 0)
  const { offered } = soldBy(page)
  const isEachTime = (product: number): boolean => sold.every((each) => each.size === 1 && each.has(product))
  if (sold.length > 0 && [...offered].some(isEachTime))
    say('error', `“${page.name}” offers what buyers have just bought: choose a second product`, placeOf(page))
  const isOffer = page.purpose === 'upsell' || page.purpose === 'downsell'
  if (
    isOffer &&
    offered.size === 0 &&
    ![...walk(page.content.document)].some(({ block }) => block.kind === 'nextOffer')
  )
    say('advice', `“${page.name}” offers nothing: add a part “one more offer”`, placeOf(page))
}
