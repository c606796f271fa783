import type { JunctionPasses, TriedJunction } from '../../contract/junctions.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { choose } from '../../core/junctions/choosing.ts'
import { otherwise, type JunctionContent } from '../../core/junctions/junction.ts'
import { contactById, personNow } from '../audience/people/contacts.ts'
import { activityKindsIn, loadPeople } from '../audience/people/personFacts.ts'
import { conditionSql } from '../audience/segments/conditionSql.ts'
import { loadContext, refuseLarge } from '../audience/segments/evaluationContext.ts'
import { createBinds } from '../database/binds.ts'
import type { Queries } from '../database/connect.ts'
import type { Clock } from '../clock.ts'
import { notFound } from '../http/problems.ts'
import { targetWords } from './targetWords.ts'

const conditionsOf = ({ rules }: JunctionContent): Condition[] => rules.map(({ when }) => when)

/**
 * How many people of the whole list each rule would take now, in one statement.
 * @throws Problem 422 when it asks more than anybody waits for
 */
export async function sortedNow(
  q: Queries,
  content: JunctionContent,
  now: number,
): Promise<{ rules: { rule: string; people: number }[] }> {
  const context = await loadContext(q, conditionsOf(content))
  refuseLarge(conditionsOf(content), context.segments)
  const binds = createBinds()
  const cases = content.rules.map(
    ({ when }, at) => `when ${conditionSql(when, { ...context, now }, binds)} then ${at}`,
  )
  const taken = cases.length === 0 ? '0' : `case ${cases.join(' ')} else ${cases.length} end`
  const rows = await q.rows<{ at: number; people: number }>(
    `${binds.with} select ${taken} at, count(*)::int people from contact c where not c.rehearsal group by 1`,
    binds.values,
  )
  const people = new Map(rows.map((row) => [row.at, row.people]))
  return {
    rules: [...content.rules.map(({ id }) => id), otherwise].map((rule, at) => ({
      rule,
      people: people.get(at) ?? 0,
    })),
  }
}

/** Where one person would be sent now, and why. @throws Problem 404 */
export async function tryJunction(
  q: Queries,
  content: JunctionContent,
  id: number,
  clock: Clock,
): Promise<TriedJunction> {
  const contact = await contactById(q, id)
  const context = await loadContext(q, conditionsOf(content))
  refuseLarge(conditionsOf(content), context.segments)
  const kinds = activityKindsIn(conditionsOf(content), context.segments)
  const person = (await loadPeople(q, [id], kinds)).get(id)
  if (!person) throw notFound('This person')
  const { rule, target, reason } = choose(content, person, { ...context, now: personNow(clock, contact) })
  return { rule, reason, to: await targetWords(q, target) }
}

const daysShown = 30

/** How many passed by each rule on each of the last 30 days. @throws Problem 404 */
export async function passesOf(q: Queries, id: number, now: number): Promise<JunctionPasses> {
  if (!(await q.row('select from junction where id = $1', [id]))) throw notFound('This junction')
  const days = await q.rows<{ day: string }>(
    `select to_char(day, 'YYYY-MM-DD') "day" from generate_series(
       ($1::timestamptz at time zone (select zone from business))::date - ${daysShown - 1},
       ($1::timestamptz at time zone (select zone from business))::date, interval '1 day') day order by 1`,
    [new Date(now)],
  )
  const rows = await q.rows<{ rule: string; day: string; known: number; strangers: number }>(
    `select rule, to_char(day, 'YYYY-MM-DD') "day", known, strangers from junction_pass
     where junction_id = $1 and day >= $2::date`,
    [id, days[0]?.day],
  )
  const rules = [...new Set(rows.map(({ rule }) => rule))]
  const numbers = (rule: string, of: 'known' | 'strangers'): number[] =>
    days.map(({ day }) => rows.find((row) => row.rule === rule && row.day === day)?.[of] ?? 0)
  return {
    days: days.map(({ day }) => day),
    rules: rules.map((rule) => ({
      rule,
      known: numbers(rule, 'known'),
      strangers: numbers(rule, 'strangers'),
    })),
  }
}
