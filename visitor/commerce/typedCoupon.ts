import type { Request } from 'express'
import { isCouponUsable, type CartItem } from '../../core/commerce/cart.ts'
import { couponWords } from '../../core/commerce/priceWords.ts'
import { couponOf, isUsedUp, usesOfCoupon, type KnownCoupon } from '../../server/commerce/wanting.ts'
import { countTries, sourceOf } from '../../server/http/rateLimits.ts'
import type { Platform } from '../../server/platform.ts'
import type { TypedOrder } from '../../core/commerce/shownOrder.ts'

/** So many coupons a minute that are none one source may try: more is guessing. */
const mostTried = 8

/** What is said of a coupon that is not taken off. */
const words = {
  unusable: 'This coupon cannot be used here.',
  usedUp: 'This coupon has been used up.',
  guessed: 'Too many coupons were tried. Wait a minute, then try again.',
} as const

/** The coupon of an order form: one that is taken off, with what it takes; or why not. */
export interface TriedCoupon {
  coupon: KnownCoupon | null
  said: string | null
  fault?: string
}

/** Was a coupon not even looked at, since too many were tried? */
export const isGuessed = (fault: string | undefined): boolean => fault === words.guessed

/** Looks at coupons that were typed, or came by an address or a cart; who guesses is slowed down in each case. */
export function openCoupons({ database: q }: Pick<Platform, 'database'>) {
  const tries = countTries(mostTried)
  const refused = (fault: string): TriedCoupon => ({ coupon: null, said: null, fault })

  const isGuessing = (request: Request): Promise<boolean> => tries.isOver(sourceOf(request))

  return {
    /** Has this source tried too many that are none? */
    isGuessing,
    /** Looks at the coupon that was typed, if one was. */
    async look(
      request: Request,
      { coupon: typed, address = '' }: TypedOrder,
      items: readonly CartItem[],
      who: { contact: number | null; now: number; currency: string },
    ): Promise<TriedCoupon> {
      if (typed === undefined) return { coupon: null, said: null }
      const coupon = await couponOf(q, typed)
      const isTheirs = coupon !== null && (coupon.holder === null || coupon.holder === who.contact)
      if (!isTheirs) await tries.note(sourceOf(request))
      if (await isGuessing(request)) return refused(words.guessed)
      const products = items.map(({ product }) => product)
      if (!isTheirs || !isCouponUsable(coupon, products, who.now)) return refused(words.unusable)
      if (isUsedUp(coupon, await usesOfCoupon(q, coupon.id, address.toLowerCase())))
        return refused(words.usedUp)
      return { coupon, said: `${couponWords(coupon, who.currency)} off` }
    },
  }
}
