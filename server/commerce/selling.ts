import { taxSettings, type TaxSettings } from '../../core/commerce/tax.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { getBusiness } from '../workspace/business.ts'

/** What all prices rest on. */
export interface Selling {
  currency: string
  zone: string
  tax: TaxSettings
  /** Nobody pays with money before somebody says that it is meant so. */
  takes: 'test' | 'live'
}

/** The currency of the business, its clock, how it taxes, and whether payments are meant. */
export async function getSelling(q: Queries): Promise<Selling> {
  const { currency, zone, tax, takes } = await getBusiness(q)
  return { currency, zone, tax: taxSettings.parse(tax), takes }
}

export async function saveTax(q: Queries, tax: TaxSettings): Promise<void> {
  await q.rows('update business set tax = $1', [JSON.stringify(tax)])
  await announce(q, 'pages')
}
