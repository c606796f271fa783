import { describe, expect, it } from 'vitest'
import type { SegmentView } from '../../../contract/audience/segments.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import type { EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import { noNames } from '../../../core/audience/segments/names.ts'
import { made } from '../../../testing/people.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { createBinds } from '../../database/binds.ts'
import { conditionSql } from './conditionSql.ts'

const on = useInstall({ worker: false })

const opened = (email: number, atLeast = 1): Condition => ({
  kind: 'did',
  activity: 'emailOpened',
  details: { email },
  atLeast,
})
const any = (of: Condition[]): Condition => ({ kind: 'any', of })
const all = (of: Condition[]): Condition => ({ kind: 'all', of })
const many = <T>(length: number, of: (i: number) => T): T[] => Array.from({ length }, (_, i) => of(i))

const emails = Object.fromEntries(many(300, (i) => [i + 1, `Email ${i + 1}`]))
const context: EvaluationContext = {
  now: Date.parse('2026-11-24T10:00:00Z'),
  zone: 'Europe/Dublin',
  names: { ...noNames(), emails, tags: { 1: 'Tag' } },
  scorecards: {},
  segments: {},
}

/** How often the statement for a condition reads activities, by the plan that the database makes of it. */
async function readsOfActivity(tree: Condition): Promise<number> {
  const binds = createBinds()
  const where = conditionSql(tree, context, binds)
  const rows = await on.q.rows<{ 'QUERY PLAN': object }>(
    `explain (format json) ${binds.with} select from contact c where ${where}`,
    binds.values,
  )
  const text = JSON.stringify(rows)
  return (text.match(/"Relation Name":"activity_default"/g) ?? []).length
}

describe('what is asked twice', () => {
  it('is looked up once, wherever it stands', async () => {
    expect(await readsOfActivity(opened(1))).toBe(1)
    expect(await readsOfActivity(any(many(50, () => opened(1))))).toBe(1)
    const apart = many(20, () => all([opened(1), { kind: 'hasTag', tag: 1 }]))
    expect(await readsOfActivity(any([...apart, all([opened(1), { kind: 'state', is: ['bounced'] }])]))).toBe(
      1,
    )
  })

  it('shares one pass with other questions about the same kind of activity', async () => {
    expect(await readsOfActivity(any(many(50, (i) => opened(i + 1))))).toBe(1)
    const mixed = many(25, (i) => all([opened(i + 1, 2), { kind: 'state', is: ['bounced'] }]))
    expect(await readsOfActivity({ kind: 'not', of: any(mixed) })).toBe(1)
  })
})

describe('a condition that asks more than 200 questions', () => {
  const large = any(many(5, () => any(many(50, (i) => opened(i + 1)))))

  it('is refused in words, before anything is asked', async () => {
    for (const path of ['/people/count', '/people/find', '/people/sample']) {
      const answer = await on.mara.post(path, { tree: large })
      expect(answer.status, path).toBe(422)
      expect(await answer.text()).toContain('200 questions at most')
    }
    expect((await on.mara.post('/segments', { name: 'Large', tree: large })).status).toBe(422)
  })

  it('is refused when it is segments in segments that make it so, and nothing is changed', async () => {
    const made50 = async (name: string, tree: Condition): Promise<number> =>
      (await made<{ id: number }>(on.mara.post('/segments', { name, tree }))).id
    const tags = many(45, (i): Condition => ({ kind: 'hasTag', tag: i + 1 }))
    const inner = await made50('Inner', any(tags))
    const naming = (count: number, segment: number): Condition =>
      any(many(count, () => ({ kind: 'segment', segment })))
    const middle = await made50('Middle', naming(3, inner))
    const answer = await on.mara.post('/segments', { name: 'Outer', tree: naming(3, middle) })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({ title: 'This has more than 200 conditions' })
    expect((await on.mara.post('/people/count', { tree: naming(3, middle) })).status).toBe(422)
    expect((await on.mara.post('/people/why', { tree: naming(3, middle), contact: 1 })).status).toBe(422)

    // A segment cannot be made so large that another one, which names it, would ask too much.
    const grown = await on.mara.post(`/segments/${inner}`, {
      name: 'Inner',
      tree: any([any(tags), any(many(30, (i) => opened(i + 1)))]),
    })
    expect(grown.status).toBe(422)
    expect(await grown.json()).toMatchObject({ title: '“Middle” would have more than 200 conditions' })
    const segments = await on.mara.get<SegmentView[]>('/segments')
    expect(segments.map(({ name }) => name)).toEqual(['Inner', 'Middle'])
  })

  it('that an older release stored is shown with what is wrong, and no other suffers', async () => {
    const nested = (depth: number): Condition =>
      depth === 0 ? { kind: 'hasTag', tag: 1 } : any(many(10, () => nested(depth - 1)))
    await on.q.rows(
      `insert into segment (name, tree, created_at, updated_at) values ('Old', $1, now(), now())`,
      [JSON.stringify(nested(4))],
    )
    const old = (await on.mara.get<SegmentView[]>('/segments')).find(({ name }) => name === 'Old')
    expect(old).toMatchObject({ people: null, missing: ['more than 200 questions'] })
  })
})
