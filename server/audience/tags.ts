import type { Instant } from '../../core/audience/activity.ts'
import type { Queries } from '../database/connect.ts'
import { recordActivities } from './activities.ts'

/** A tag to be put on a person. */
export interface Tagging {
  contact: number
  tag: number
  at: Instant
}

/** Puts tags on people; who has one already keeps it as it was, and nothing happens. */
export async function addTags(q: Queries, taggings: readonly Tagging[], by: string): Promise<void> {
  if (taggings.length === 0) return
  const added = await q.rows<{ contact_id: number; tag_id: number; added_at: Date }>(
    `insert into contact_tag (contact_id, tag_id, added_at, added_by)
     select contact, tag, at, $4 from unnest($1::bigint[], $2::bigint[], $3::timestamptz[]) t (contact, tag, at)
     on conflict do nothing
     returning contact_id, tag_id, added_at`,
    [
      taggings.map((each) => each.contact),
      taggings.map((each) => each.tag),
      taggings.map((each) => new Date(each.at)),
      by,
    ],
  )
  await recordActivities(
    q,
    added.map((row) => ({
      contact: row.contact_id,
      kind: 'tagAdded',
      at: row.added_at.getTime(),
      details: { tag: row.tag_id, by },
    })),
  )
}
