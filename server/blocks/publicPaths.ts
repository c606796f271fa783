import type { PublicSettings } from '../../contract/drafts.ts'
import { pathOfName } from '../../core/pages/page.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'

/**
 * The public paths of a kind of thing. Links to one are in the world: what had a path once keeps it for ever.
 * @param table that has a table of former paths beside it
 */
export function publicPathsOf(table: 'junction' | 'quiz') {
  /** Was the path ever that of another one? */
  const ownerOf = (q: Queries, path: string, but: number | null): Promise<{ name: string } | undefined> =>
    q.row<{ name: string }>(
      `select name from ${table} where id is distinct from $2
         and (path = $1 or exists (select from ${table}_former_path where path = $1 and ${table}_id = ${table}.id)) limit 1`,
      [path, but],
    )

  return {
    /** The path of a name, with a number behind it where others have it. */
    async free(q: Queries, name: string): Promise<string> {
      const wanted = pathOfName(name)
      for (let n = 1; ; n += 1) {
        const path = n === 1 ? wanted : `${wanted}-${n}`
        if (!(await ownerOf(q, path, null))) return path
      }
    },

    /** Sets what it is called and where it is found; its former address leads on. @throws Problem 404, 409 */
    async set(q: Queries, id: number, { name, path, labels }: PublicSettings): Promise<void> {
      const before = await q.row<{ path: string }>(`select path from ${table} where id = $1 for update`, [id])
      if (!before) throw notFound(`This ${table}`)
      const owner = await ownerOf(q, path, id)
      if (owner)
        throw new Problem(
          409,
          'This path is taken',
          `“${owner.name}” has it, or had it. Choose another one.`,
          {
            path: `“${owner.name}” has this path, or had it`,
          },
        )
      await q.rows(`update ${table} set name = $2, path = $3, labels = $4 where id = $1`, [
        id,
        name,
        path,
        labels,
      ])
      if (before.path !== path)
        await q.rows(
          `insert into ${table}_former_path (path, ${table}_id) values ($1, $2) on conflict do nothing`,
          [before.path, id],
        )
      await q.rows(`delete from ${table}_former_path where path = $1`, [path])
      await announce(q, 'pages')
    },

    /** Where one is now that had this path once; null when none had. */
    async moved(q: Queries, path: string): Promise<string | null> {
      const row = await q.row<{ path: string }>(
        `select ${table}.path from ${table}_former_path former join ${table} on ${table}.id = ${table}_id
         where former.path = $1 and published_version is not null and archived_at is null`,
        [path],
      )
      return row?.path ?? null
    },
  }
}
