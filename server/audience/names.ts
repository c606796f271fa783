import type { Names } from '../../core/audience/names.ts'
import type { Queries } from '../database/connect.ts'

/** Names of everything that decisions may speak of. */
export async function loadNames(q: Queries): Promise<Names> {
  const rows = await q.rows<{ kind: keyof Names; id: number; name: string }>(
    `select 'emails' kind, id, name from email union all select 'tags', id, name from tag
     union all select 'pages', id, name from page union all select 'files', id, name from file`,
  )
  const names: Names = { emails: {}, tags: {}, pages: {}, files: {} }
  for (const { kind, id, name } of rows) names[kind][id] = name
  return names
}
