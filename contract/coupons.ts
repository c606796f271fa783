import { z } from 'zod'
import { coupon } from '../core/commerce/coupon.ts'
import { created, get, post } from './route.ts'

export const couponView = coupon.safeExtend({
  id: z.number().int(),
  /** Names of the products that it is for; none when it is for all. */
  productNames: z.array(z.string()),
  changedAt: z.iso.datetime(),
  changedBy: z.string(),
})
export type CouponView = z.infer<typeof couponView>

export const coupons = {
  list: get('/coupons', { answer: z.array(couponView) }),
  create: post('/coupons', { body: coupon, answer: created }),
  save: post('/coupons/:id/save', { body: coupon }),
  delete: post('/coupons/:id/delete', {}),
} as const
