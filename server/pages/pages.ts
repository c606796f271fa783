import type { NewPage, PageSettings, PageView } from '../../contract/pages.ts'
import { copyDocument } from '../../core/blocks/operations.ts'
import type { PageContent } from '../../core/pages/page.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { randomPartId } from './partIds.ts'
import { pageDrafts } from './drafts.ts'
import { Page } from './models.ts'
import { usesOf } from './usage.ts'

/** @throws Problem 404 */
export async function pageById(q: Queries, id: number): Promise<Page> {
  const page = await Page.findByPk(id, { transaction: q.transaction ?? null })
  if (!page) throw notFound('This page')
  return page
}

/** Why a path cannot be had by a page, or null. @param page the one that wants it; null for a new one */
export async function pathFault(q: Queries, path: string, page: number | null): Promise<string | null> {
  const taken = await q.row<{ name: string }>(
    'select name from page where path = $1 and id is distinct from $2',
    [path, page],
  )
  return taken ? `“${taken.name}” has this address` : null
}

async function refuseTakenPath(q: Queries, path: string, page: number | null): Promise<void> {
  const fault = await pathFault(q, path, page)
  if (fault) throw new Problem(409, 'This address is taken', 'Choose another one.', { path: fault })
}

/** The next place in a course, where there is one. */
async function nextLesson(q: Queries, course: number | null): Promise<number | null> {
  if (course === null) return null
  const last = await q.row<{ number: number }>(
    'select coalesce(max(lesson_number), 0) number from page where course_id = $1',
    [course],
  )
  return (last?.number ?? 0) + 1
}

/** Makes a page whose first version is a draft. @returns its id */
export async function createPage(q: Queries, given: NewPage, by: string, at: Date): Promise<number> {
  await refuseTakenPath(q, given.path, null)
  const transaction = q.transaction ?? null
  // Who had the address before is led there no more.
  await q.rows('delete from page_former_path where path = $1', [given.path])
  const page = await Page.create(
    {
      name: given.name,
      path: given.path,
      purpose: given.purpose,
      courseId: given.course,
      lessonNumber: await nextLesson(q, given.course),
      createdAt: at,
    },
    { transaction },
  )
  await pageDrafts.begin(q, page.id, given.content, { by, at })
  await announce(q, 'pages')
  return page.id
}

/** Moves a page to another address, in a transaction; visitors of the old one are led on. @throws Problem 409 */
export async function movePage(q: Queries, page: Page, path: string): Promise<void> {
  if (path === page.path) return
  await refuseTakenPath(q, path, page.id)
  await q.rows('delete from page_former_path where path = $1', [path])
  if (page.publishedVersion !== null)
    await q.rows(
      `insert into page_former_path (path, page_id) values ($1, $2)
       on conflict (path) do update set page_id = excluded.page_id`,
      [page.path, page.id],
    )
  await page.update({ path }, { transaction: q.transaction ?? null })
}

/** Renames a page, moves it to another address, or into another course. */
export async function setPageSettings(
  platform: Platform,
  id: number,
  { name, path, purpose, course }: PageSettings,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const page = await pageById(tx, id)
    await movePage(tx, page, path)
    const lessonNumber = course === page.courseId ? page.lessonNumber : await nextLesson(tx, course)
    await page.update(
      { name, purpose, courseId: course, lessonNumber },
      { transaction: tx.transaction ?? null },
    )
    await announce(tx, 'pages')
  })
}

/** A page with its newest version, as the editor opens it. @throws Problem 404 */
export async function viewPage(platform: Platform, id: number, by: string): Promise<PageView> {
  const { database: q, clock, settings } = platform
  const { path, purpose, courseId: course } = await pageById(q, id)
  return {
    ...(await pageDrafts.view(q, id, { by, at: new Date(clock.now()) })),
    path,
    purpose,
    url: `${settings.publicUrl}/p/${path}`,
    course,
    usedIn: (await usesOf(q, 'page', [id])).get(id) ?? [],
  }
}

/** This address, or one made of it, that no page has. */
export async function freePath(q: Queries, path: string): Promise<string> {
  for (let i = 1; ; i += 1) {
    const candidate = i === 1 ? path : `${path.slice(0, 94)}-${i}`
    if ((await pathFault(q, candidate, null)) === null) return candidate
  }
}

/** Makes a draft that says the same. @returns its id */
export async function copyPage(q: Queries, id: number, { by, at }: Doing): Promise<number> {
  const page = await pageById(q, id)
  const { content } = await pageDrafts.newest(q, id)
  const copied: PageContent = { ...content, document: copyDocument(content.document, randomPartId) }
  const { name, path, purpose, courseId: course } = page
  const given = { name: `${name} (copy)`.slice(0, 120), path: await freePath(q, path), purpose, course }
  return createPage(q, { ...given, content: copied }, by, at)
}

export async function deletePage(q: Queries, id: number): Promise<void> {
  const page = await pageById(q, id)
  await page.destroy({ transaction: q.transaction ?? null })
  await announce(q, 'pages', 'audience')
}
