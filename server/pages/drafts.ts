import { describeChanges } from '../../core/pages/describeChanges.ts'
import { findingsOf, type Finding } from '../../core/pages/findings.ts'
import { pageContent, type PageContent, type PagePurpose } from '../../core/pages/page.ts'
import { draftsOf } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { makeContentSafe } from './safeContent.ts'
import { surroundingsOf } from './surroundings.ts'

async function findings(q: Queries, id: number, content: PageContent, at: Date): Promise<Finding[]> {
  const page = await q.row<{ purpose: PagePurpose }>('select purpose from page where id = $1', [id])
  return findingsOf(content, page?.purpose ?? 'any', await surroundingsOf(q, at))
}

/** How pages are drafted and published. */
export const pageDrafts = draftsOf<PageContent>({
  table: 'page',
  word: 'page',
  shape: pageContent,
  prepare: makeContentSafe,
  findings,
  describeChanges,
})
