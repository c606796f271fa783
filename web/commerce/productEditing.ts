import { computed, ref, type ComputedRef, type Ref } from 'vue'
import { freshPrice, type Price } from '../../core/commerce/price.ts'
import type { ProductContent } from '../../core/commerce/product.ts'
import { useContentHistory, type ContentHistory } from '../blocks/contentHistory.ts'
import { newPartId } from '../blocks/editing.ts'

/** A product that is being edited; every edit can be undone. */
export interface ProductEditing extends Omit<ContentHistory<ProductContent>, 'apply'> {
  /** Begins with another content, which can be undone. */
  replace: (content: ProductContent) => void
  /** The id of a price; none for the product itself. */
  selected: Ref<string | null>
  price: ComputedRef<Price | null>
  set: (given: Partial<ProductContent>) => void
  setPrice: (price: Price, of?: string) => void
  addPrice: () => void
  duplicate: (id: string) => void
  remove: (id: string) => void
  shift: (id: string, by: -1 | 1) => void
}

export function useProductEditing(initial: ProductContent): ProductEditing {
  const { content, apply, ...history } = useContentHistory(initial)
  const selected = ref<string | null>(null)
  const prices = (): readonly Price[] => content.value.prices
  const placeOf = (id: string): number => prices().findIndex((price) => price.id === id)
  const setPrices = (next: Price[], of: string | null = null): void =>
    apply({ ...content.value, prices: next }, of)
  function insert(price: Price, at: number): void {
    setPrices(prices().toSpliced(at, 0, price))
    selected.value = price.id
  }

  return {
    content,
    ...history,
    replace: (next) => apply(next),
    selected,
    price: computed(() => content.value.prices.find(({ id }) => id === selected.value) ?? null),
    set: (given) => apply({ ...content.value, ...given }, `product ${Object.keys(given).join(' ')}`),
    setPrice: (next, of = '') =>
      setPrices(
        prices().map((price) => (price.id === next.id ? next : price)),
        of === '' ? null : `${next.id} ${of}`,
      ),
    addPrice: () => insert(freshPrice(newPartId()), prices().length),
    duplicate(id) {
      const price = prices()[placeOf(id)]
      if (price) insert({ ...price, id: newPartId() }, placeOf(id) + 1)
    },
    remove(id) {
      setPrices(prices().filter((price) => price.id !== id))
      selected.value = null
    },
    shift(id, by) {
      const [from, price] = [placeOf(id), prices()[placeOf(id)]]
      const to = from + by
      if (price && to >= 0 && to < prices().length)
        setPrices(prices().toSpliced(from, 1).toSpliced(to, 0, price))
    },
  }
}
