import type { Instant } from '../../core/audience/people/activity.ts'
import { giveConsent } from '../audience/people/permission.ts'
import { setTopics } from '../audience/describing/topics.ts'
import type { Queries } from '../database/connect.ts'

/** What a buyer agreed to besides buying. */
export interface Agreed {
  wording: string
  topics: number[]
}

/** Writes into the ledger of consent what somebody agreed to in an order form, and makes them subscribed. */
export async function agreeAtOrder(
  q: Queries,
  entry: { contact: number; agreed: Agreed; at: Instant; place: string; ip: string | null },
): Promise<void> {
  const { contact, agreed, at, place, ip } = entry
  const { wording, topics } = agreed
  await giveConsent(q, { contact, wording, source: place, ip, at })
  await setTopics(
    q,
    topics.map((topic) => ({ contact, topic, agreed: true, wording, by: `order form of ${place}`, at })),
  )
}
