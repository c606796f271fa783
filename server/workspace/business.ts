import type { BusinessView } from '../../contract/workspace.ts'
import type { Queries } from '../database/connect.ts'
import { Business, Sender } from './models.ts'

/** The business of this install, with its sender. @throws when the install has none yet */
export async function getBusiness(q: Queries): Promise<Business> {
  return Business.findByPk(1, {
    include: 'sender',
    rejectOnEmpty: true,
    transaction: q.transaction ?? null,
  })
}

/** What a business begins with. Its own sender need not be confirmed. */
interface NewBusiness {
  name: string
  postalAddress: string
  senderName: string
  senderAddress: string
  zone: string
  currency: string
}

export async function createBusiness(
  q: Queries,
  { senderName, senderAddress, ...business }: NewBusiness,
  at: Date,
): Promise<void> {
  const transaction = q.transaction ?? null
  const sender = await Sender.create(
    {
      name: senderName,
      address: senderAddress,
      addressKey: senderAddress.toLowerCase(),
      confirmedAt: at,
      createdAt: at,
    },
    { transaction },
  )
  await Business.create({ ...business, senderId: sender.id, createdAt: at }, { transaction })
}

export function viewBusiness({ name, zone, currency, sender }: Business): BusinessView {
  return { name, zone, currency, senderName: sender.name, senderAddress: sender.address }
}
