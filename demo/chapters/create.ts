import type { PageContent } from '../../core/capture/page.ts'
import type { Program } from '../../core/followups/program.ts'
import { Page } from '../../server/capture/models.ts'
import type { Queries } from '../../server/database/connect.ts'
import { Followup } from '../../server/followups/models.ts'

/** Inserts a row of the story. @returns its id */
async function insert(q: Queries, sql: string, values: unknown[]): Promise<number> {
  const row = await q.row<{ id: number }>(`${sql} returning id`, values)
  if (!row) throw new Error(`no row came of: ${sql}`)
  return row.id
}

export const createTag = (q: Queries, name: string, description: string, at: Date): Promise<number> =>
  insert(q, 'insert into tag (name, description, created_at) values ($1, $2, $3)', [name, description, at])

export const createTopic = (q: Queries, name: string, description: string, at: Date): Promise<number> =>
  insert(q, 'insert into topic (name, description, created_at) values ($1, $2, $3)', [name, description, at])

export const createField = (
  q: Queries,
  name: string,
  kind: string,
  options: readonly { id: string; label: string }[],
  at: Date,
): Promise<number> =>
  insert(q, 'insert into field (name, kind, options, created_at) values ($1, $2, $3, $4)', [
    name,
    kind,
    JSON.stringify(options),
    at,
  ])

/** A thing that is known by its name only, as long as its part of the product is not there. */
export const createNamed = (
  q: Queries,
  table: 'product' | 'quiz' | 'live_session',
  name: string,
  at: Date,
): Promise<number> => insert(q, `insert into ${table} (name, created_at) values ($1, $2)`, [name, at])

/** A live page; who sends its form gets the tag. */
export const createPage = (
  q: Queries,
  page: { slug: string; name: string; tagId: number; content: PageContent },
  at: Date,
): Promise<Page> =>
  Page.create({ ...page, state: 'live', createdAt: at }, { transaction: q.transaction ?? null })

export const createFollowup = (q: Queries, name: string, program: Program, at: Date): Promise<Followup> =>
  Followup.create({ name, state: 'live', program, createdAt: at }, { transaction: q.transaction ?? null })
