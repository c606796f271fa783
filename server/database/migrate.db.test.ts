import { readdir } from 'node:fs/promises'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { onServer, urlOf } from '../../testing/databases.ts'
import { connect, type Database } from './connect.ts'
import { ensureActivityMonths, migrate } from './migrate.ts'

const name = `nurtel_migrations_${process.pid}`
const at = Date.parse('2026-11-24T10:00:00Z')
let q: Database
beforeEach(async () => {
  await onServer(`create database ${name}`)
  q = connect(urlOf(name), { connections: 2 })
})
afterEach(async () => {
  await q.close()
  await onServer(`drop database ${name}`)
})

const upTo = (last?: string) => migrate(q, urlOf(name), last)

/** Tables with their columns, constraints and indexes: what a schema is. */
const schema = () =>
  q.rows(
    `select 'column' what, table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable said
       from information_schema.columns where table_schema = 'public'
     union all select 'index', indexdef from pg_indexes where schemaname = 'public'
     union all select 'constraint', conrelid::regclass || ' ' || pg_get_constraintdef(oid) from pg_constraint
       where connamespace = 'public'::regnamespace
     order by 1, 2`,
  )

describe('the schema', () => {
  it('is the same whether it was made at once or release by release', async () => {
    const files = (await readdir(new URL('./migrations/', import.meta.url))).sort()
    expect(files.length).toBeGreaterThan(2)
    for (const file of files) await upTo(file)
    const stepwise = await schema()
    await q.close()
    await onServer(`drop database ${name}`)
    await onServer(`create database ${name}`)
    q = connect(urlOf(name), { connections: 2 })
    await upTo()
    expect(await schema()).toEqual(stepwise)
  })

  it('is left as it is when it is up to date', async () => {
    await upTo()
    const before = await schema()
    await upTo()
    expect(await schema()).toEqual(before)
  })
})

describe('the data of the release before', () => {
  beforeEach(async () => {
    await upTo('002-people.sql')
    await ensureActivityMonths(q, at, 1, 2)
  })

  it('is all there afterwards, and people are found in every order', async () => {
    await q.rows(
      `insert into contact (address, address_key, first_name, last_name, rehearsal, created_at, updated_at)
       select 'p' || i || '@postbox.test', 'p' || i || '@postbox.test', 'Ada', 'Alder ' || i, i = 3, now(), now()
       from generate_series(1, 3) i`,
    )
    await upTo()
    expect(await q.rows('select address from contact where not rehearsal order by name_key, id')).toEqual([
      { address: 'p1@postbox.test' },
      { address: 'p2@postbox.test' },
    ])
  })

  it('keeps what imports were told of permission', async () => {
    await q.rows(
      `insert into import (file_name, size, format, choices, state, created_at)
       select 'x.csv', 1, '{}', choices::jsonb, 'checked', now()
       from unnest(array['{"agreed": true, "statement": "at the fair"}', '{"agreed": false}', null]) choices`,
    )
    await upTo()
    expect(await q.rows('select choices from import order by id')).toEqual([
      { choices: { permission: 'agreed', statement: 'at the fair' } },
      { choices: { permission: 'notAsked' } },
      { choices: null },
    ])
  })

  it('has its stretches of time in days', async () => {
    const within = { kind: 'between', from: '2026-02-01T00:00:00Z', to: '2026-03-04T23:59:59+01:00' }
    const text = { kind: 'field', field: 'firstName', test: { test: 'is', value: '2026-02-01T00:00' } }
    const tree = { kind: 'all', of: [{ kind: 'created', within }, text] }
    await q.rows('insert into segment (name, tree, created_at, updated_at) values ($1, $2, now(), now())', [
      'In February',
      JSON.stringify(tree),
    ])
    await upTo()
    expect(await q.row('select tree from segment')).toEqual({
      tree: {
        kind: 'all',
        of: [{ kind: 'created', within: { kind: 'between', from: '2026-02-01', to: '2026-03-04' } }, text],
      },
    })
  })

  it('tells bands by their ids, and keeps what they were called', async () => {
    const bands = [
      { id: 'cool', name: 'Cool', from: null },
      { id: 'warm', name: 'Lukewarm', from: 10 },
    ]
    await q.rows(
      `insert into scorecard (name, card, created_at, updated_at) values ('Interest', $1, now(), now())`,
      [JSON.stringify({ behaviours: [], profile: [], bands })],
    )
    await q.rows(
      `insert into activity (contact_id, kind, details, at) values
         (1, 'bandReached', '{"scorecard": 1, "band": "Lukewarm", "from": "Cool", "by": "activity"}', $1),
         (1, 'bandLeft', '{"scorecard": 9, "band": "Hot", "to": "Cool", "by": "time"}', $1),
         (1, 'tagAdded', '{"tag": 1, "by": "x"}', $1)`,
      [new Date(at)],
    )
    await upTo()
    expect(await q.rows('select details from activity order by kind')).toEqual([
      // The scorecard is gone: there is no id to be found, and the name still says what it was.
      { details: { scorecard: 9, band: 'Hot', name: 'Hot', to: 'Cool', by: 'time' } },
      { details: { scorecard: 1, band: 'warm', name: 'Lukewarm', from: 'Cool', by: 'activity' } },
      { details: { tag: 1, by: 'x' } },
    ])
  })

  it('knows which emails were opened, and when first', async () => {
    await q.rows(
      `with who as (insert into contact (address, address_key, created_at, updated_at)
           values ('a@postbox.test', 'a@postbox.test', now(), now()) returning id),
         letter as (insert into email (name, purpose, letter, html_template, text_template, created_at)
           values ('Grain', 'marketing', '{}', '', '', now()) returning id)
       insert into message (email_id, contact_id, purpose, queued_at)
       select letter.id, who.id, 'marketing', now() from who, letter, generate_series(1, 2)`,
    )
    await q.rows(
      `insert into activity (contact_id, kind, details, at)
       select 1, 'emailOpened', '{"email": 1, "message": 2}', $1::timestamptz + i * interval '1 day'
       from generate_series(0, 2) i`,
      [new Date(at)],
    )
    await upTo()
    expect(await q.rows('select opened_at at from message order by id')).toEqual([
      { at: null },
      { at: new Date(at) },
    ])
  })
})
