import type { KnownThings } from '../../../core/audience/people/personAction.ts'
import type { Queries } from '../../database/connect.ts'
import { openFields } from './fields.ts'

/** The ids in a table. @param from the table, with what narrows it down */
export async function idsOf(q: Queries, from: string): Promise<ReadonlySet<number>> {
  const rows = await q.rows<{ id: number }>(`select id from ${from}`)
  return new Set(rows.map(({ id }) => id))
}

/** The things that actions of forms and links can speak of. */
export const loadKnownThings = async (q: Queries): Promise<KnownThings> => ({
  fields: await openFields(q),
  tags: await idsOf(q, 'tag'),
  topics: await idsOf(q, 'topic where archived_at is null'),
  followups: await idsOf(q, 'followup'),
})
