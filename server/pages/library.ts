import type { SiteView } from '../../contract/pages.ts'
import type { Section } from '../../core/blocks/document.ts'
import { fullAmount } from '../../core/commerce/offer.ts'
import { paysWords } from '../../core/commerce/priceWords.ts'
import { productContent } from '../../core/commerce/product.ts'
import { openFields } from '../audience/describing/fields.ts'
import { getSelling } from '../commerce/selling.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { loadSite } from './site.ts'

interface Named {
  id: number
  name: string
}

const named = (
  q: Queries,
  table: 'tag' | 'course' | 'topic' | 'followup' | 'named_link' | 'scorecard' | 'email',
  which = '',
): Promise<Named[]> => q.rows<Named>(`select id, name from ${table} ${which} order by lower(name), id`)

/** Every form as it is published, or as it is written where it never was. */
function listDraftedForms(q: Queries): Promise<SiteView['forms']> {
  return q.rows<SiteView['forms'][number]>(
    `select distinct on (lower(form.name), form.id) form.id, form.name, number as version, content, published_version is not null live
     from form join form_version on form_id = form.id where archived_at is null
     order by lower(form.name), form.id, number = published_version desc nulls last, number desc`,
  )
}

/** Every product that is not put away, as it is on sale or as it is written, to choose from. */
async function productsToChoose(q: Queries): Promise<SiteView['products']> {
  const { currency } = await getSelling(q)
  const rows = await q.rows<Named & { live: boolean; content: unknown }>(
    `select distinct on (lower(name), product.id) product.id, name, published_version is not null live, content
     from product join product_version on product_id = product.id where archived_at is null
     order by lower(name), product.id, number = published_version desc nulls last, number desc`,
  )
  return rows.map(({ content, ...product }) => {
    const { title, prices } = productContent.parse(content)
    return {
      ...product,
      title: title || product.name,
      prices: prices.map(({ id, name, pays }) => ({
        id,
        name,
        words: paysWords(pays, currency, fullAmount({ pays })),
      })),
    }
  })
}

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
    details: site.mergeFields.details.flatMap((detail) =>
      detail.kind === 'picture' ? [{ id: detail.id, name: detail.name, picture: detail.picture }] : [],
    ),
    files: await q.rows<Named & { mediaType: string }>(
      'select id, name, media_type "mediaType" from file order by lower(name), id',
    ),
    tags: await named(q, 'tag'),
    forms: await listDraftedForms(q),
    popUps: await q.rows<Named & { live: boolean }>(
      `select id, name, published_version is not null live from pop_up where archived_at is null order by position, id`,
    ),
    namedLinks: await named(q, 'named_link'),
    deadlines: await q.rows<Named>('select id, name from deadline order by name'),
    junctions: await q.rows<Named & { path: string; live: boolean }>(
      `select id, name, path, published_version is not null live from junction where archived_at is null
       order by lower(name), id`,
    ),
    quizzes: await q.rows<Named & { path: string; live: boolean }>(
      `select id, name, path, published_version is not null live from quiz where archived_at is null
       order by lower(name), id`,
    ),
    products: await productsToChoose(q),
    currency: site.selling.currency,
    scorecards: await named(q, 'scorecard'),
    emails: await named(q, 'email', 'where archived_at is null'),
    fields: await openFields(q),
    topics: await named(q, 'topic', 'where archived_at is null'),
    followups: await named(q, 'followup'),
    courses: courses.map((course) => ({
      ...course,
      lessons: [...site.pages.values()]
        .filter((page) => page.course === course.id)
        .map(({ id, title, live }) => ({ page: id, title, live })),
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

/**
 * Puts the lessons of a course in this order.
 * @throws Problem 409 when these are not its lessons
 */
export async function orderLessons(
  { database }: Platform,
  course: number,
  pages: readonly number[],
): Promise<void> {
  await database.inTransaction(async (tx) => {
    const lessons = await tx.rows<{ id: number }>('select id from page where course_id = $1 for update', [
      course,
    ])
    const known = new Set(lessons.map(({ id }) => id))
    if (
      known.size !== pages.length ||
      new Set(pages).size !== pages.length ||
      !pages.every((id) => known.has(id))
    )
      throw new Problem(
        409,
        'The lessons of this course have changed',
        'Load the page again, then order them.',
      )
    await tx.rows(
      `update page set lesson_number = number
       from unnest($1::bigint[]) with ordinality as each (page, number) where page.id = each.page`,
      [pages],
    )
    await announce(tx, 'pages')
  })
}
