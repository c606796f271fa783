import type { Section } from '../../core/blocks/document.ts'
import { purposes, type PageContent, type PagePurpose } from '../../core/pages/page.ts'
import type { FormContent } from '../../core/capture/form.ts'
import { Readable } from 'node:stream'
import { storeFileIn } from '../../server/capture/files.ts'
import { createPublishedForm } from '../../server/capture/forms.ts'
import type { Program } from '../../core/followups/program.ts'
import { createPage as createPageDraft } from '../../server/pages/pages.ts'
import { business } from '../business.ts'
import type { Queries } from '../../server/database/connect.ts'
import { createFollowup as beginFollowup } from '../../server/followups/creating.ts'
import { writeWakings } from '../../server/followups/waking.ts'

/** Inserts a row of the story. @returns its id */
async function insert(q: Queries, sql: string, values: unknown[]): Promise<number> {
  const row = await q.row<{ id: number }>(`${sql} returning id`, values)
  if (!row) throw new Error(`no row came of: ${sql}`)
  return row.id
}

/** Makes one of each, one after the other. @returns their ids, by the same keys */
export async function makeEach<K extends string, Given>(
  given: Readonly<Record<K, Given>>,
  make: (given: Given) => Promise<number>,
): Promise<Record<K, number>> {
  const ids: [string, number][] = []
  for (const [key, each] of Object.entries<Given>(given)) ids.push([key, await make(each)])
  return Object.fromEntries(ids) as Record<K, number>
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
export const createNamed = (q: Queries, table: 'live_session', name: string, at: Date): Promise<number> =>
  insert(q, `insert into ${table} (name, created_at) values ($1, $2)`, [name, at])

/** Makes a form that visitors can use. @returns its id */
export const createForm = (q: Queries, name: string, content: FormContent, at: Date): Promise<number> =>
  createPublishedForm(q, { name, content }, { by: business.senderName, at })

/** Stores a file. @returns its id */
export const createFile = (q: Queries, name: string, content: Buffer, at: Date): Promise<number> =>
  storeFileIn(q, { name, bytes: Readable.from([content]) }, { by: business.senderName, at })

/** What differs between the pages of the story. */
export interface StoryPage {
  path: string
  name: string
  purpose: PagePurpose
  title: string
  description?: string
  opens?: PageContent['opens']
  course?: number
  /** The personal deadline while which it is open. */
  deadline?: string
  draft?: boolean
  sections: Section[]
}

/** Makes a page, live unless it is said to be a draft. @returns its id */
export async function createPage(q: Queries, page: StoryPage, at: Date): Promise<number> {
  const { path, name, purpose, title, description = '', opens = { when: 'atOnce' }, sections } = page
  const content: PageContent = {
    title,
    description,
    language: 'en',
    listed: purposes[purpose].listed,
    sharing: { title: '', words: '', picture: null },
    icon: null,
    limitedTo: null,
    opens,
    deadline: page.deadline ?? null,
    document: { sections },
  }
  const given = { path, name, purpose, course: page.course ?? null, content }
  const id = await createPageDraft(q, given, business.senderName, at)
  if (!page.draft)
    await q.rows(
      'update page set published_version = 1, published_at = $2, published_by = $3 where id = $1',
      [id, at, business.senderName],
    )
  return id
}

/** Makes a follow-up that is live. */
export async function createFollowup(
  q: Queries,
  name: string,
  program: Program,
  at: Date,
): Promise<{ id: number; program: Program }> {
  const by = business.senderName
  const id = await beginFollowup(q, name, program, { by, at })
  await q.rows(
    `update followup set state = 'live', published_version = 1, published_at = $2, published_by = $3 where id = $1`,
    [id, at, by],
  )
  await writeWakings(q, id, program)
  return { id, program }
}
