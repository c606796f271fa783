import { taxSettings, type TaxSettings } from '../../core/commerce/tax.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { getBusiness } from '../workspace/business.ts'

/** What all prices rest on: the currency of the business, its clock, and how it taxes. */
export async function getSelling(q: Queries): Promise<{ currency: string; zone: string; tax: TaxSettings }> {
  const { currency, zone, tax } = await getBusiness(q)
  return { currency, zone, tax: taxSettings.parse(tax) }
}

export async function saveTax(q: Queries, tax: TaxSettings): Promise<void> {
  await q.rows('update business set tax = $1', [JSON.stringify(tax)])
  await announce(q, 'pages')
}
