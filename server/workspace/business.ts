import type { BusinessView } from '../../contract/workspace.ts'
import type { Queries } from '../database/connect.ts'
import { Business } from './models.ts'

/** The business of this install. @throws when the install has none yet */
export async function getBusiness(q: Queries): Promise<Business> {
  return Business.findByPk(1, { rejectOnEmpty: true, transaction: q.transaction ?? null })
}

export function viewBusiness(business: Business): BusinessView {
  const { name, zone, currency, senderName, senderAddress } = business
  return { name, zone, currency, senderName, senderAddress }
}
