import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import { evaluate, type EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import { noNames } from '../../../core/audience/segments/names.ts'
import { marketingState } from '../../../core/audience/people/permission.ts'
import type { Person } from '../../../core/audience/people/person.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { anyCondition, kinds, things, words } from '../../../testing/conditions.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { createBinds } from '../../database/binds.ts'
import { conditionSql } from './conditionSql.ts'
import { loadPeople } from '../people/personFacts.ts'

const now = Date.parse('2026-03-05T09:00:00Z')
const named = (ids: readonly number[]) => Object.fromEntries(ids.map((id) => [id, `thing ${id}`]))

const card: Scorecard = {
  behaviours: [
    {
      id: 'a',
      activity: 'emailClicked',
      details: {},
      points: 5,
      capPerDay: null,
      capInAll: null,
      halfLife: 30,
    },
    {
      id: 'b',
      activity: 'emailOpened',
      details: {},
      points: 1,
      capPerDay: null,
      capInAll: null,
      halfLife: 7,
    },
  ],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 3 },
    { id: 'hot', name: 'Hot', from: 10 },
  ],
}

const context: EvaluationContext = {
  now,
  zone: 'Europe/Dublin',
  names: {
    ...noNames(),
    tags: named(things.tags),
    topics: named(things.topics),
    fields: named(Object.values(things.fields)),
    emails: named(things.emails),
    links: named(things.links),
    followups: named(things.followups),
    scorecards: named(things.scorecards),
    segments: named(things.segments),
  },
  scorecards: { 1: card },
  segments: {
    1: { kind: 'hasTag', tag: 1 },
    2: { kind: 'not', of: { kind: 'segment', segment: 1 } },
    // Asks for itself: nobody can tell.
    3: {
      kind: 'any',
      of: [
        { kind: 'hasTag', tag: 2 },
        { kind: 'segment', segment: 3 },
      ],
    },
  },
}

const maybe = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined })
const word = fc.constantFrom(...words)
const instant = fc.constantFrom(
  ...['2026-03-05T09:00:00Z', '2026-03-05T08:59:00Z', '2026-03-04T09:00:00Z', '2026-03-04T08:00:00Z'],
  ...['2026-02-03T09:00:00Z', '2026-02-01T00:00:00Z', '2025-03-05T09:00:00Z', '2026-03-05T09:00:01Z'],
)

/** Rows of one person. Own fields may hold values of another kind than the field's: nothing may trip over them. */
const anyone = fc.record({
  firstName: fc.oneof(fc.constant(''), word),
  phone: maybe(fc.constantFrom('+353 1 555', '2026-03-05')),
  country: maybe(fc.constantFrom('IE', 'US')),
  state: fc.constantFrom(...marketingState.options),
  fields: fc.dictionary(
    fc.constantFrom(...Object.values(things.fields).map(String)),
    fc.oneof(
      word,
      fc.constantFrom(0, 0.1, 3, 3.5, -1, 1e21),
      fc.boolean(),
      fc.constantFrom('2026-03-05', '2026-03-04', '2026-01-01', '2027-03-05', '2026-3-5', ''),
      fc.array(word, { maxLength: 3 }),
    ),
  ),
  source: fc.record({ utm_source: word }, { requiredKeys: [] }),
  createdAt: instant,
  tags: fc.subarray(things.tags),
  topics: fc.array(fc.record({ topic: fc.constantFrom(...things.topics), agreed: fc.boolean() }), {
    maxLength: 2,
  }),
  activities: fc.array(
    fc.record({
      kind: fc.constantFrom(...kinds),
      details: fc.oneof(
        fc.record({
          email: fc.constantFrom(...things.emails),
          message: fc.constant(1),
          link: fc.constantFrom(...things.links),
        }),
        fc.record({ result: word }),
      ),
      at: instant,
    }),
    { maxLength: 5 },
  ),
  score: maybe(
    fc.record({
      steady: fc.constantFrom(0, 2, -4),
      fading: fc.tuple(fc.integer({ min: -20, max: 20 }), fc.nat(30)),
      at: instant,
    }),
  ),
  enrolments: fc.array(fc.record({ followup: fc.constantFrom(...things.followups), ended: fc.boolean() }), {
    maxLength: 2,
  }),
  deadlines: fc.dictionary(fc.constantFrom('Early', 'Late'), instant),
})
type Anyone = typeof anyone extends fc.Arbitrary<infer T> ? T : never

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
  const q = install.platform.database
  await q.rows('truncate contact, tag, contact_tag, page, email, followup, enrolment cascade')
  for (const [table, ids] of [
    ['tag', things.tags],
    ['topic', things.topics],
    ['followup', things.followups],
  ] as const)
    await q.rows(
      `insert into ${table} (id, name, ${table === 'followup' ? 'state, program,' : ''} created_at) overriding system value
       select id, 'thing ' || id, ${table === 'followup' ? "'draft', '{}'," : ''} now() from unnest($1::bigint[]) id`,
      [ids],
    )
  await q.rows(
    `insert into scorecard (id, name, card, created_at, updated_at) overriding system value values (1, 'x', $1, now(), now())`,
    [JSON.stringify(card)],
  )
})
afterAll(() => install.close())

async function settle(people: readonly Anyone[]): Promise<Map<number, Person>> {
  await install.platform.database.inTransaction(async (tx) => {
    await tx.rows('delete from contact')
    for (const table of ['activity', 'contact_score']) await tx.rows(`delete from ${table}`)
    for (const [i, each] of people.entries()) {
      const id = i + 1
      await tx.rows(
        `insert into contact (id, address, address_key, first_name, phone, country, marketing_state, fields, source, created_at, updated_at)
         overriding system value values ($1, $2, $2, $3, $4, $5, $6, $7, $8, $9, $9)`,
        [
          id,
          `p${id}@ie.test`,
          each.firstName,
          each.phone ?? null,
          each.country ?? null,
          each.state,
          JSON.stringify(each.fields),
          JSON.stringify(each.source),
          each.createdAt,
        ],
      )
      await tx.rows('insert into contact_tag select $1, unnest($2::bigint[]), now(), $3', [
        id,
        each.tags,
        'test',
      ])
      for (const { topic, agreed } of each.topics)
        await tx.rows('insert into contact_topic values ($1, $2, $3, now(), $4) on conflict do nothing', [
          id,
          topic,
          agreed,
          'test',
        ])
      await tx.rows(
        `insert into activity (contact_id, kind, details, at)
         select $1, kind, details, at from jsonb_to_recordset($2) as each (kind text, details jsonb, at timestamptz)`,
        [id, JSON.stringify(each.activities)],
      )
      if (each.score)
        await tx.rows('insert into contact_score values (1, $1, $2, $3, $4, $5)', [
          id,
          each.score.at,
          each.score.steady,
          each.score.fading,
          'cool',
        ])
      for (const { followup, ended } of each.enrolments)
        await tx.rows(
          `insert into enrolment (followup_id, contact_id, started_at, step, ended_at) values ($1, $2, now(), $3, $4)`,
          [followup, id, ended ? null : 'x', ended ? new Date(now) : null],
        )
      for (const [offer, ends] of Object.entries(each.deadlines))
        await tx.rows('insert into personal_deadline values ($1, $2, $3)', [id, offer, ends])
    }
  })
  return loadPeople(
    install.platform.database,
    people.map((_, i) => i + 1),
    kinds,
  )
}

/** Conditions of which something was looked up together. */
let shared = 0

async function askInSql(tree: Condition): Promise<Map<number, boolean | null>> {
  const binds = createBinds()
  const sql = conditionSql(tree, context, binds)
  if (binds.with !== '') shared += 1
  const rows = await install.platform.database.rows<{ id: number; holds: boolean | null }>(
    `${binds.with} select id, ${sql} holds from contact c`,
    binds.values,
  )
  return new Map(rows.map(({ id, holds }) => [id, holds]))
}

describe('the two readers of conditions', () => {
  it('agree on every person for any condition', async () => {
    // 12 audiences of 40 people, 100 conditions each: 1,200 cases, 48,000 answers.
    await fc.assert(
      fc.asyncProperty(
        fc.array(anyone, { minLength: 40, maxLength: 40 }),
        fc.array(anyCondition, { minLength: 100, maxLength: 100 }),
        async (rows, trees) => {
          const people = await settle(rows)
          for (const tree of trees) {
            const inSql = await askInSql(tree)
            for (const [id, person] of people) {
              const { holds, reason } = evaluate(tree, person, context)
              // Compared by hand first: 48,000 looks through whole trees would take longer than all questions.
              if (inSql.get(id) !== holds)
                expect({ tree, id, holds: inSql.get(id) }, reason).toEqual({ tree, id, holds })
            }
          }
        },
      ),
      { numRuns: 12, endOnFailure: true },
    )
    // Both ways of asking were tried.
    expect(shared).toBeGreaterThan(60)
    expect(shared).toBeLessThan(1_100)
  })
})
