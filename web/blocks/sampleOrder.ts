import type { SiteView } from '../../contract/pages.ts'
import type { Block } from '../../core/blocks/block.ts'
import type { Offered } from '../../core/blocks/kinds/selling.ts'
import type { ShownChoice, ShownNextOffer, ShownOrder } from '../../core/commerce/shownOrder.ts'

const choicesOf = (site: SiteView, { product: id, price: only }: Offered): ShownChoice[] => {
  const product = site.products.find((each) => each.id === id)
  if (!product) return []
  return product.prices
    .filter(({ id: price }) => only === null || price === only)
    .map(({ id: price, name, words }) => ({
      product: product.id,
      price,
      title: product.prices.length > 1 && name ? `${product.title}: ${name}` : product.title,
      words,
      note: '',
      closed: null,
      least: null,
    }))
}

/** One more offer as the sheet shows it. */
export function sampleNextOffer({ offer }: Block<'nextOffer'>, site: SiteView): ShownNextOffer | null {
  const [choice] = choicesOf(site, offer)
  return choice ? { title: choice.title, words: choice.words, action: '#', noHref: '#', fault: null } : null
}

/** An order form as the sheet shows it: all of its parts at once, before anybody has typed anything. */
export function sampleOrder(block: Block<'orderForm'>, site: SiteView): ShownOrder | null {
  const choices = block.offers.flatMap((offer) => choicesOf(site, offer))
  if (choices.length === 0) return null
  return {
    block,
    action: '#',
    currency: site.currency,
    part: 'whole',
    choices,
    extra: (block.extra ? choicesOf(site, block.extra) : [])[0] ?? null,
    typed: {},
    faults: {},
    notice: null,
    cart: null,
    coupon: null,
    buyer: null,
    card: null,
    termsHref: null,
    test: false,
  }
}
