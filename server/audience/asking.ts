import type { Condition } from '../../core/audience/condition.ts'
import type { Surroundings } from '../../core/audience/evaluate.ts'
import type { Scorecard } from '../../core/audience/scorecard.ts'
import type { Queries } from '../database/connect.ts'
import { theBusiness } from '../workspace/business.ts'
import { loadNames } from './names.ts'

/** What questions about people rest on besides the people: names, segments and scorecards as they are now. */
export async function loadSurroundings(q: Queries): Promise<Surroundings> {
  const names = await loadNames(q)
  const segments = await q.rows<{ id: number; tree: Condition }>('select id, tree from segment')
  const scorecards = await q.rows<{ id: number; card: Scorecard }>('select id, card from scorecard')
  const { zone } = await theBusiness(q)
  return {
    zone,
    names,
    segments: Object.fromEntries(segments.map(({ id, tree }) => [id, tree])),
    scorecards: Object.fromEntries(scorecards.map(({ id, card }) => [id, card])),
  }
}
