import type { SiteView } from '../../contract/pages.ts'
import type { Section } from '../../core/blocks/document.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { loadSite } from './site.ts'

interface Named {
  id: number
  name: string
}

const named = (q: Queries, table: 'tag' | 'course'): Promise<Named[]> =>
  q.rows<Named>(`select id, name from ${table} order by lower(name), id`)

/** Everything that the editor chooses from and draws with. */
export async function viewSite(platform: Platform): Promise<SiteView> {
  const q = platform.database
  const site = await loadSite(q)
  const pictures = await q.rows<{ id: number; name: string; alt: string; createdAt: Date }>(
    'select id, name, alt, created_at "createdAt" from picture order by id desc',
  )
  const courses = await named(q, 'course')
  return {
    business: site.business,
    publicUrl: platform.settings.publicUrl,
    brand: site.brand,
    settings: site.settings,
    pages: [...site.pages.values()].map(({ id, name, path, purpose, live }) => ({
      id,
      name,
      path,
      purpose,
      live,
    })),
    pictures: pictures.flatMap(({ createdAt, ...picture }) => {
      const files = site.pictures.get(picture.id)
      return files
        ? [{ ...picture, ...files, widths: [...files.widths], createdAt: createdAt.toISOString() }]
        : []
    }),
    files: await q.rows<Named & { mediaType: string }>(
      'select id, name, media_type "mediaType" from file order by lower(name), id',
    ),
    tags: await named(q, 'tag'),
    courses: courses.map((course) => ({
      ...course,
      lessons: (site.courses.get(course.id) ?? []).map(({ page, title }) => ({ page, title })),
    })),
    savedSections: await q.rows<Named & { section: Section }>(
      'select id, name, section from saved_section order by lower(name), id',
    ),
  }
}

async function inserted(q: Queries, sql: string, values: unknown[]): Promise<{ id: number }> {
  const row = await q.row<{ id: number }>(`${sql} returning id`, values)
  if (!row) throw new Error('an insert returned no row')
  await announce(q, 'pages')
  return row
}

/** Keeps a section to be used again. */
export const saveSection = (
  { database, clock }: Platform,
  { name, section }: { name: string; section: Section },
): Promise<{ id: number }> =>
  inserted(database, 'insert into saved_section (name, section, created_at) values ($1, $2, $3)', [
    name,
    JSON.stringify(section),
    new Date(clock.now()),
  ])

export async function deleteSection({ database }: Platform, id: number): Promise<void> {
  await database.rows('delete from saved_section where id = $1', [id])
  await announce(database, 'pages')
}

export const createCourse = ({ database, clock }: Platform, name: string): Promise<{ id: number }> =>
  inserted(database, 'insert into course (name, created_at) values ($1, $2)', [name, new Date(clock.now())])
