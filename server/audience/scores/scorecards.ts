import type { ScorecardEdit, ScorecardView } from '../../../contract/audience/scores.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { bandOf, conditionsOfCard } from '../../../core/audience/scores/scorecard.ts'
import { missingIn } from '../../../core/audience/segments/references.ts'
import type { Queries } from '../../database/connect.ts'
import { startWork } from '../../work/longWork.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'
import { loadContext, refuseLarge } from '../segments/evaluationContext.ts'

/** Scorecards with how many people each band has. */
export async function listScorecards(q: Queries): Promise<ScorecardView[]> {
  const rows = await q.rows<{ id: number; name: string; card: Scorecard }>(
    'select id, name, coalesce(next_card, card) card from scorecard order by name_key',
  )
  const { names } = await loadContext(
    q,
    rows.flatMap(({ card }) => conditionsOfCard(card)),
  )
  const bands = await q.rows<{ scorecard: number; band: string; people: number }>(
    `select scorecard_id scorecard, band, count(*) people from contact_score
     join contact on contact.id = contact_id where not rehearsal group by 1, 2`,
  )
  const everybody =
    (await q.row<{ people: number }>('select count(*) people from contact where not rehearsal'))?.people ?? 0
  return rows.map((row) => {
    const people = Object.fromEntries(row.card.bands.map(({ id }) => [id, 0]))
    const mine = bands.filter(({ scorecard }) => scorecard === row.id)
    for (const each of mine) if (Object.hasOwn(people, each.band)) people[each.band] = each.people
    // Who has no row has no points, and so is in the band that 0 lies in.
    const zero = bandOf(row.card, 0).id
    people[zero] = (people[zero] ?? 0) + everybody - mine.reduce((sum, each) => sum + each.people, 0)
    const missing = missingIn({ kind: 'all', of: row.card.profile.map(({ when }) => when) }, names)
    return { ...row, people, missing }
  })
}

/**
 * Makes a scorecard or changes the rules of one, and begins to work out everybody's score. Until that is done the old
 * rules and scores stand together; the new ones take their place in one step.
 * @returns the scorecard and the id of the work
 * @throws Problem 404, 409
 */
export async function saveScorecard(
  platform: Platform,
  id: number | null,
  { name, card }: ScorecardEdit,
): Promise<{ id: number; work: number }> {
  return platform.database.inTransaction(async (tx) => {
    const now = new Date(platform.clock.now())
    const other = await tx.row(
      'select id from scorecard where name_key = lower($1) and id is distinct from $2',
      [name, id],
    )
    if (other)
      throw new Problem(409, 'This scorecard name is taken', 'Choose another name.', {
        name: 'Taken',
      })
    const { segments } = await loadContext(tx, conditionsOfCard(card))
    refuseLarge(conditionsOfCard(card), segments)
    const saved =
      id === null
        ? await tx.row<{ id: number }>(
            `insert into scorecard (name, card, next_card, created_at, updated_at) values ($1, $2, $3, $4, $4) returning id`,
            [name, JSON.stringify({ ...card, behaviours: [], profile: [] }), JSON.stringify(card), now],
          )
        : await tx.row<{ id: number }>(
            'update scorecard set name = $2, next_card = $3, updated_at = $4 where id = $1 returning id',
            [id, name, JSON.stringify(card), now],
          )
    if (!saved) throw notFound('This scorecard')
    const work = await startWork(tx, 'rescore', `Recalculate scores: ${name}`, { scorecard: saved.id }, now)
    await announce(tx, 'audience')
    return { id: saved.id, work }
  })
}

/** Deletes a scorecard with its scores; conditions that speak of it are shown as broken. @throws Problem 404 */
export async function deleteScorecard(platform: Platform, id: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row('delete from scorecard where id = $1 returning id', [id])
    if (!found) throw notFound('This scorecard')
    await tx.rows('delete from contact_score where scorecard_id = $1', [id])
    await announce(tx, 'audience')
  })
}
