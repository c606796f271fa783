import { junctionContent, type JunctionContent } from '../../core/junctions/junction.ts'
import type { Queries } from '../database/connect.ts'

/** A junction that sends visitors on. */
export interface PublishedJunction {
  id: number
  name: string
  path: string
  content: JunctionContent
}

interface Row extends Omit<PublishedJunction, 'content'> {
  content: unknown
}

/** Every junction as it is published, by its number. */
export async function loadJunctions(q: Queries): Promise<ReadonlyMap<number, PublishedJunction>> {
  const rows = await q.rows<Row>(
    `select id, name, path, content from junction join junction_version on junction_id = id and number = published_version
     where archived_at is null order by id`,
  )
  return new Map(rows.map((row) => [row.id, { ...row, content: junctionContent.parse(row.content) }]))
}
