import type { FunnelCopy, NewFunnel } from '../../contract/funnels.ts'
import { readFunnelFile } from '../../core/funnels/funnelFile.ts'
import { noFunnelSettings } from '../../core/funnels/settings.ts'
import { funnelFrom, funnelStarters } from '../../core/funnels/starters.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { Problem } from '../http/problems.ts'
import { refuseUnstorable } from '../http/storableText.ts'
import { pathFault } from '../pages/pages.ts'
import { randomPartId } from '../pages/partIds.ts'
import { getBusiness } from '../workspace/business.ts'
import { createFunnel, funnelById, freeName, refuseTakenName } from './funnels.ts'
import { gatherFunnel } from './gathering.ts'
import { keepStarterWords } from './progress.ts'
import { placeFunnel } from './placing.ts'
import { freeFunnelPath, refuseTakenFunnelPath } from './settings.ts'

/** Larger files are refused: pictures and films of a hundred pages. */
export const largestFunnelFile = 60 * 1024 * 1024

/** Makes a funnel by a starter: pages, form, tags, emails and follow-up, wired. @throws Problem 409, 422 */
export async function makeFunnel(q: Queries, given: NewFunnel, doing: Doing): Promise<number> {
  const { name, goal, labels, path, currency, opens, line } = given
  const starter = funnelStarters.find(({ id }) => id === given.starter)
  if (!starter) throw new Problem(422, 'There is no such starter', 'Choose one of those in the list.')
  if (starter.date !== undefined && opens === null)
    throw new Problem(422, 'A date is missing', `${starter.date}: choose a day.`, { opens: 'Choose a day' })
  await refuseTakenName(q, name, null)
  await refuseTakenFunnelPath(q, path, null)
  if (starter.id === 'nothing') {
    const settings = { ...noFunnelSettings, path, currency }
    return createFunnel(q, { name, goal, labels, line, settings, starter: starter.id }, doing)
  }
  const { zone } = await getBusiness(q)
  const file = funnelFrom(starter, goal, { name, path, labels, currency, opens, zone }, randomPartId)
  for (const page of file.pages) {
    const fault = await pathFault(q, page.path, null)
    if (fault !== null)
      throw new Problem(409, 'This address is taken', `“${page.path}”: choose another one.`, { path: fault })
  }
  const id = await placeFunnel(q, file, { name, path, tags: 'shared', starter: starter.id }, doing)
  await keepStarterWords(q, id)
  return id
}

/**
 * Another line through the same pages; or, as a whole, one with pages, forms, emails and follow-ups of its own.
 * @throws Problem 404, 409
 */
export async function copyFunnel(
  q: Queries,
  id: number,
  { name, path, whole, tags }: FunnelCopy,
  doing: Doing,
): Promise<number> {
  if (!whole) {
    const { goal, labels, line, settings } = await funnelById(q, id)
    return createFunnel(q, { name, goal, labels, line, settings: { ...settings, path: null } }, doing)
  }
  await refuseTakenName(q, name, null)
  if (path !== null) await refuseTakenFunnelPath(q, path, null)
  const file = await gatherFunnel(q, id, 'own')
  return placeFunnel(q, file, { name, path, tags, known: (_, number) => number }, doing)
}

/** Makes a funnel of a file that somebody has exported. Nothing that is here is overwritten. @throws Problem 422 */
export async function importFunnel(
  q: Queries,
  { bytes, name, tags }: { bytes: unknown; name: string | undefined; tags: 'shared' | 'new' },
  doing: Doing,
): Promise<number> {
  const read = readFunnelFile(Buffer.isBuffer(bytes) ? bytes.toString('utf8') : '')
  if (!read.ok) throw new Problem(422, 'This file cannot be imported', `${read.reason} Nothing was changed.`)
  const { file } = read
  refuseUnstorable(file)
  const called = await freeName(q, name ?? file.funnel.name)
  const { path } = file.funnel.settings
  const wish = { name: called, path: path === null ? null : await freeFunnelPath(q, path), tags }
  return placeFunnel(q, file, wish, doing)
}
