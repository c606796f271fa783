import type { FunnelEdit } from '../../contract/funnels.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import { movedPath } from '../../core/funnels/settings.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import { Page } from '../pages/models.ts'
import { movePage } from '../pages/pages.ts'
import { funnelById, refuseTakenName, tell } from './funnels.ts'

/** @param id of the funnel that wants it; null for a new one @throws Problem 409 */
export async function refuseTakenFunnelPath(q: Queries, path: string, id: number | null): Promise<void> {
  const taken = await q.row<{ name: string }>(
    `select name from funnel where settings->>'path' = $1 and archived_at is null and id is distinct from $2 limit 1`,
    [path, id],
  )
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
 * @throws Problem 404, 409 when the name, the path or the new address of a page is taken
 */
export async function setFunnelSettings(
  q: Queries,
  id: number,
  { name, goal, labels, settings }: FunnelEdit,
): Promise<void> {
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
  await q.rows('update funnel set name = $2, goal = $3, labels = $4, settings = $5 where id = $1', [
    id,
    name,
    goal,
    labels,
    JSON.stringify(settings),
  ])
  await tell(q)
  await announce(q, 'pages')
}
