import type { DraftState, PageSave, PageView } from '../../contract/pages.ts'
import { describeChanges } from '../../core/pages/describeChanges.ts'
import { findingsOf } from '../../core/pages/findings.ts'
import { pageContent, type PageContent } from '../../core/pages/page.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import type { Page } from './models.ts'
import { PageVersion } from './models.ts'
import { newestVersion, pageById } from './pages.ts'
import { makeContentSafe } from './safeContent.ts'
import { loadSite } from './site.ts'
import { usesOf } from './usage.ts'

/** Who has not been heard of for so long is no longer at a page (milliseconds). */
const presenceLasts = 60_000

/** Notes that somebody is at a page, and says who else is. */
async function othersAt(q: Queries, page: number, by: string, now: number): Promise<string[]> {
  await q.rows(
    `insert into page_editor (page_id, name, seen_at) values ($1, $2, $3)
     on conflict (page_id, name) do update set seen_at = excluded.seen_at`,
    [page, by, new Date(now)],
  )
  const others = await q.rows<{ name: string }>(
    'select name from page_editor where page_id = $1 and name <> $2 and seen_at > $3 order by name',
    [page, by, new Date(now - presenceLasts)],
  )
  return others.map(({ name }) => name)
}

async function publishedContent(q: Queries, page: Page): Promise<PageContent | null> {
  if (page.publishedVersion === null) return null
  const version = await PageVersion.findOne({
    where: { pageId: page.id, number: page.publishedVersion },
    transaction: q.transaction ?? null,
  })
  return version?.content ?? null
}

async function findingsFor(q: Queries, page: Page, content: PageContent) {
  const site = await loadSite(q)
  const pages = [...site.pages.values()]
  return findingsOf(content, page.purpose, {
    livePages: new Set(pages.filter(({ live }) => live).map(({ id }) => id)),
    pageNames: Object.fromEntries(pages.map(({ id, name }) => [id, name])),
    videoHosts: site.settings.videoHosts,
  })
}

async function stateOf(
  platform: Platform,
  q: Queries,
  page: Page,
  draft: PageVersion,
  by: string,
): Promise<DraftState> {
  const published = await publishedContent(q, page)
  return {
    version: draft.number,
    revision: draft.revision,
    savedAt: draft.madeAt.toISOString(),
    savedBy: draft.madeBy,
    changes: published ? describeChanges(published, draft.content) : [],
    findings: await findingsFor(q, page, draft.content),
    others: await othersAt(q, page.id, by, platform.clock.now()),
  }
}

export const pageStateOf = ({ archivedAt, publishedVersion }: Page): PageView['state'] => {
  if (archivedAt !== null) return 'archived'
  return publishedVersion === null ? 'draft' : 'live'
}

/** A page with its newest version, as the editor opens it. @throws Problem 404 */
export async function viewPage(platform: Platform, id: number, by: string): Promise<PageView> {
  const q = platform.database
  const page = await pageById(q, id)
  const draft = await newestVersion(q, id)
  const versions = await PageVersion.findAll({
    where: { pageId: id },
    attributes: ['number', 'madeAt', 'madeBy'],
    order: [['number', 'DESC']],
    limit: 100,
  })
  return {
    id,
    name: page.name,
    path: page.path,
    purpose: page.purpose,
    state: pageStateOf(page),
    url: `${platform.settings.publicUrl}/p/${page.path}`,
    content: draft.content,
    publishedVersion: page.publishedVersion,
    course: page.courseId,
    usedIn: (await usesOf(q, 'page', [id])).get(id) ?? [],
    versions: versions.map(({ number, madeAt, madeBy }) => ({
      number,
      madeAt: madeAt.toISOString(),
      madeBy,
      published: number === page.publishedVersion,
    })),
    ...(await stateOf(platform, q, page, draft, by)),
  }
}

/** Refuses a change of a page that has been changed meanwhile, and says by whom. @throws Problem 409 */
function refuseStale(draft: PageVersion, { version, revision }: { version: number; revision: number }): void {
  if (draft.number === version && draft.revision === revision) return
  throw new Problem(
    409,
    `${draft.madeBy} has changed this page meanwhile`,
    'Nothing of yours is lost. Load their version, save yours over it, or keep yours as a copy.',
  )
}

/** Writes a content as the draft: over the one that there is, or as a new version after the published one. */
async function writeDraft(
  q: Queries,
  page: Page,
  newest: PageVersion,
  content: PageContent,
  made: { madeAt: Date; madeBy: string },
): Promise<PageVersion> {
  const transaction = q.transaction ?? null
  if (newest.number !== page.publishedVersion)
    return newest.update({ content, revision: newest.revision + 1, ...made }, { transaction })
  return PageVersion.create({ pageId: page.id, number: newest.number + 1, content, ...made }, { transaction })
}

/** Saves what somebody has written. @throws Problem 409 when somebody else has saved meanwhile */
export async function savePage(
  platform: Platform,
  id: number,
  save: PageSave,
  by: string,
): Promise<DraftState> {
  return platform.database.inTransaction(async (tx) => {
    const page = await pageById(tx, id)
    const newest = await newestVersion(tx, id, true)
    if (!save.over) refuseStale(newest, save)
    const made = { madeAt: new Date(platform.clock.now()), madeBy: by }
    const draft = await writeDraft(tx, page, newest, makeContentSafe(save.content), made)
    return stateOf(platform, tx, page, draft, by)
  })
}

/** Shows visitors the newest version. @throws Problem 409 when it is another than meant, 422 when it has errors */
export async function publishPage(
  platform: Platform,
  id: number,
  meant: { version: number; revision: number },
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const page = await pageById(tx, id)
    const newest = await newestVersion(tx, id, true)
    refuseStale(newest, meant)
    const errors = (await findingsFor(tx, page, newest.content)).filter(({ level }) => level === 'error')
    if (errors.length > 0)
      throw new Problem(422, 'This page is not ready', errors.map(({ words }) => words).join('. '))
    await page.update(
      {
        publishedVersion: newest.number,
        publishedAt: new Date(platform.clock.now()),
        publishedBy: by,
        archivedAt: null,
      },
      { transaction: tx.transaction ?? null },
    )
    await announce(tx, 'pages')
  })
}

/** Takes what an earlier version says as the draft; what was written since stays among the versions. */
export async function goBackTo(platform: Platform, id: number, version: number, by: string): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    await pageById(tx, id)
    const newest = await newestVersion(tx, id, true)
    const earlier = await PageVersion.findOne({
      where: { pageId: id, number: version },
      transaction: tx.transaction ?? null,
    })
    if (!earlier) throw notFound('This version')
    await PageVersion.create(
      {
        pageId: id,
        number: newest.number + 1,
        content: pageContent.parse(earlier.content),
        madeAt: new Date(platform.clock.now()),
        madeBy: by,
      },
      { transaction: tx.transaction ?? null },
    )
    await announce(tx, 'pages')
  })
}
