import type { FunnelEdit } from '../../contract/funnels.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { movedPath } from '../../core/funnels/settings.ts'
import type { Queries } from '../database/connect.ts'
import { Problem } from '../http/problems.ts'
import { Page } from '../pages/models.ts'
import { movePage, pathFault } from '../pages/pages.ts'
import type { Doing } from '../blocks/drafts.ts'
import { changeFunnel, funnelById, refuseTakenName } from './funnels.ts'

/** Another funnel whose pages begin with a path. @param id of the one that wants it; null for a new one */
const funnelAt = (q: Queries, path: string, id: number | null): Promise<{ name: string } | undefined> =>
  q.row<{ name: string }>(
    `select name from funnel where settings->>'path' = $1 and archived_at is null and id is distinct from $2 limit 1`,
    [path, id],
  )

/** This path, or one made of it, that no funnel and no page has. */
export async function freeFunnelPath(q: Queries, path: string): Promise<string> {
  for (let i = 1; ; i += 1) {
    const candidate = i === 1 ? path : `${path.slice(0, 94)}-${i}`
    if (!(await funnelAt(q, candidate, null)) && (await pathFault(q, candidate, null)) === null)
      return candidate
  }
}

/** @param id of the funnel that wants it; null for a new one @throws Problem 409 */
export async function refuseTakenFunnelPath(q: Queries, path: string, id: number | null): Promise<void> {
  const taken = await funnelAt(q, path, id)
  if (taken)
    throw new Problem(
      409,
      'This path is taken',
      `The pages of “${taken.name}” begin with it. Choose another.`,
      {
        path: `“${taken.name}” has this path`,
      },
    )
}

/**
 * Sets what a funnel is called and what holds for its pages. Its pages move with its path; their old addresses lead on.
 * @throws Problem 404; 409 when the name, the path or the new address of a page is taken, or somebody else has changed
 * the funnel meanwhile
 */
export async function setFunnelSettings(
  q: Queries,
  id: number,
  { revision, name, goal, labels, settings }: FunnelEdit,
  doing: Doing,
): Promise<{ revision: number }> {
  const before = await funnelById(q, id)
  await refuseTakenName(q, name, id)
  const { path } = settings
  if (path !== null && path !== before.settings.path) {
    await refuseTakenFunnelPath(q, path, id)
    const from = before.settings.path
    if (from !== null)
      for (const page of await Page.findAll({
        where: { id: before.line.flatMap(pagesOf) },
        transaction: q.transaction ?? null,
        order: ['id'],
      }))
        await movePage(q, page, movedPath(page.path, from, path))
  }
  return changeFunnel(q, id, revision, doing, 'name = $5, goal = $6, labels = $7, settings = $8', [
    name,
    goal,
    labels,
    JSON.stringify(settings),
  ])
}
