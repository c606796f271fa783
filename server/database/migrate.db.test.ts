import { readdir } from 'node:fs/promises'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { onServer, urlOf } from '../../testing/databases.ts'
import { documentText } from '../../core/blocks/walk.ts'
import { emailContent, emailLinks } from '../../core/email/email.ts'
import { formContent } from '../../core/capture/form.ts'
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

  it('has its emails as documents, whose mail still leads on', async () => {
    const letter = {
      subject: 'Hello {{ person.first_name | default: "there" }}',
      preheader: 'Grain',
      blocks: [
        { kind: 'heading', words: 'Here it is' },
        { kind: 'text', words: 'Hello {{ person.first_name | default: "there" }},\ntwo lines.' },
        { kind: 'button', label: 'Download', target: { file: 3 } },
      ],
    }
    await q.rows(
      `insert into email (name, purpose, letter, html_template, text_template, created_at)
       values ('Grain', 'marketing', $1, '<p>{{ links[0] }}</p>', '{{ links[0] }}', now())`,
      [JSON.stringify(letter)],
    )
    await q.rows(
      `insert into email_link (email_id, position, label, target) values (1, 0, 'Download', '{"file": 3}')`,
    )
    await upTo()
    const version = await q.row<{ content: unknown; html_template: string; links: number[] }>(
      `select content, subject_template, html_template, to_json(links) links from email_version
       join email on id = email_id and number = published_version`,
    )
    const content = emailContent.parse(version?.content)
    expect(content).toMatchObject({ subject: "Hello {first name or 'there'}", purpose: 'marketing' })
    expect(documentText(content.document)).toEqual([
      'Here it is',
      "Hello {first name or 'there'},\ntwo lines.",
      'Download',
    ])
    const [link] = emailLinks(content)
    expect(link?.target).toEqual({ to: 'file', file: 3 })
    expect(await q.row('select id, block, part, target from email_link')).toEqual({
      id: version?.links[0],
      block: link?.block,
      part: link?.part,
      target: { to: 'file', file: 3 },
    })
    expect(version?.html_template).toBe('<p>{{ links[0] }}</p>')
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

describe('forms that stood in blocks of pages', () => {
  const block = (given: object) => ({
    id: 'theform001',
    kind: 'form',
    hiddenOnPhones: false,
    shownTo: null,
    guidance: '',
    button: 'Send',
    askFirstName: true,
    consentWording: 'Yes, write to me.',
    privacy: '',
    tag: 5,
    next: { to: 'path', path: '/p/thanks' },
    ...given,
  })
  const content = (given: object) => ({
    title: 'Ask',
    document: {
      sections: [
        {
          id: 'section001',
          columns: [
            { id: 'column0001', share: 1, blocks: [{ id: 'words00001', kind: 'divider' }, block(given)] },
          ],
        },
      ],
    },
  })

  it('are forms of the Library, with the versions that they had, and what people agreed to by them', async () => {
    await upTo('008-pages-more.sql')
    await ensureActivityMonths(q, at, 1, 2)
    await q.rows(`insert into page (path, name, purpose, created_at) values ('ask', 'Ask', 'landing', now())`)
    for (const [number, given] of [
      [1, {}],
      [2, {}],
      [3, { button: 'Go' }],
    ] as const)
      await q.rows(
        `insert into page_version (page_id, number, content, made_at, made_by) values (1, $1, $2, now(), 'Mara')`,
        [number, JSON.stringify(content(given))],
      )
    await q.rows('update page set published_version = 2, published_at = now()')
    await q.rows(
      `insert into contact (address, address_key, created_at, updated_at) values ('a@b.test', 'a@b.test', now(), now())`,
    )
    await q.rows(
      `insert into consent (contact_id, given, wording, source, at) values (1, true, 'Yes, write to me.', 'Ask', now())`,
    )
    await q.rows(
      `insert into confirmation (contact_id, page_id, first_name, source, wording, asked_at, block)
       values (1, 1, 'Ada', '{}', 'Yes, write to me.', now(), 'theform001')`,
    )
    await q.rows(
      `insert into activity (contact_id, kind, details, at) values (1, 'formSent', '{"page": 1}', $1)`,
      [new Date(at)],
    )
    await upTo()
    expect(await q.rows('select name, published_version from form')).toEqual([
      { name: 'Ask', published_version: 1 },
    ])
    const versions = await q.rows<{ content: unknown }>('select content from form_version order by number')
    const read = versions.map((row) => formContent.parse(row.content))
    expect(read.map(({ button }) => button)).toEqual(['Send', 'Go'])
    expect(read[0]).toMatchObject({
      actions: [{ does: 'addTag', tag: 5 }],
      after: { then: 'go', target: { to: 'path', path: '/p/thanks' } },
    })
    const pages = await q.rows<{ blocks: unknown[] }>(
      `select content#>'{document,sections,0,columns,0,blocks}' blocks from page_version order by number`,
    )
    for (const { blocks } of pages)
      expect(blocks).toEqual([
        { id: 'words00001', kind: 'divider' },
        { id: 'theform001', kind: 'form', hiddenOnPhones: false, shownTo: null, guidance: '', form: 1 },
      ])
    expect(await q.row('select wording_id, form_id from consent')).toEqual({ wording_id: 1, form_id: 1 })
    expect(await q.row('select form_id, answers from confirmation')).toEqual({
      form_id: 1,
      answers: { firstName: 'Ada', own: {}, agreed: ['consent'] },
    })
    expect(await q.row('select details from activity')).toEqual({ details: { page: 1, form: 1 } })
  })
})
