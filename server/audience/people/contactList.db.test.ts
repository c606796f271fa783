import { parse } from 'csv-parse/sync'
import { describe, expect, it } from 'vitest'
import type { TagView } from '../../../contract/audience/describing.ts'
import type { ContactList } from '../../../contract/audience/people.ts'
import { importAll, made, workEnded } from '../../../testing/people.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { mailFor } from '../../../testing/visitor.ts'

const on = useInstall()

describe('the list', () => {
  it('goes on from page to page without leaving anybody out, in every order', async () => {
    await importAll(
      on.mara,
      `email,first name\n${Array.from({ length: 60 }, (_, i) => `page${i}@pages.test,${i % 7 ? `Same` : ''}`).join('\n')}\n`,
    )
    for (const sort of ['newest', 'oldest', 'name', 'address']) {
      const seen: string[] = []
      let after: string | null = null
      do {
        const page: ContactList = await on.find({ search: 'pages.test', sort, after, size: 17 })
        seen.push(...page.rows.map(({ address }) => address))
        after = page.next
      } while (after !== null)
      expect(seen).toHaveLength(60)
      expect(new Set(seen).size).toBe(60)
    }
  })

  it('finds many and few, first and last in any order, as a plain search would', async () => {
    // Many people before, one at the very end of both orders: walked to, or found first and sorted.
    await on.q.rows(
      `insert into contact (address, address_key, first_name, created_at, updated_at)
       select 'a' || i || '@order.test', 'a' || i || '@order.test', 'Ada ' || i, now(), now() from generate_series(1, 300) i
       union all select 'zz@order.test', 'zz@order.test', 'Zora Zz', now() - interval '9 years', now()`,
    )
    await on.q.rows('vacuum analyze contact')
    for (const sort of ['newest', 'oldest', 'name', 'address'])
      for (const [search, found] of [
        ['zz@order', 1],
        ['zora', 1],
        ['zo', 1],
        ['@order.test', 301],
      ] as const) {
        const { rows } = await on.find({ search, sort, size: 200 })
        expect(rows, `${search} ${sort}`).toHaveLength(Math.min(found, 200))
        const plain = await on.q.rows<{ id: number }>(
          `select id from contact where not rehearsal and search_key like $1 order by ${
            {
              newest: 'created_at desc, id desc',
              oldest: 'created_at, id',
              name: 'name_key, id',
              address: 'address_key collate "C", id',
            }[sort]
          } limit 200`,
          [`%${search === 'zo' ? ' zo' : search}%`],
        )
        expect(rows.map(({ id }) => id)).toEqual(plain.map(({ id }) => id))
      }
  })

  it('finds any part of a name or address, and takes signs for signs', async () => {
    await on.add('percent_sign@postbox.test', { firstName: '100%' })
    for (const search of ['ercent_s', '100%', 'PERCENT', '10', 'pe'])
      expect(
        (await on.find({ search })).rows.map(({ address }) => address),
        search,
      ).toContain('percent_sign@postbox.test')
    expect((await on.find({ search: 'percent-sign' })).rows).toEqual([])
  })

  it('begins anew when the place to go on from cannot be read', async () => {
    const places = [
      ['x', 1],
      ['2026-13-45', 1],
      ['2026-11-24 10:00:00+00', 1e300],
      ['\ud800', 1],
      ['x'.repeat(2_000), 1],
      {},
    ]
    const cursors = places.map((place) => Buffer.from(JSON.stringify(place)).toString('base64url'))
    for (const sort of ['newest', 'name', 'address'])
      for (const after of ['nonsense', ...cursors])
        expect(
          (await on.mara.post('/people/find', { after: after.slice(0, 500), size: 1, sort })).status,
        ).toBe(200)
  })
})

describe('doing something to everybody who is meant', () => {
  it('tags them, or lets them into a follow-up, in one piece of work', async () => {
    const who = { search: 'pages.test' }
    const tagging = await made<{ work: number }>(
      on.mara.post('/people/bulk', { who, does: { kind: 'addTag', tag: 'Paged' } }),
    )
    expect(await workEnded(on.mara, tagging.work)).toMatchObject({
      title: 'Add a tag to 60 people',
      said: 'Done for 60 people.',
    })
    expect((await on.mara.get<TagView[]>('/tags')).find(({ name }) => name === 'Paged')?.people).toBe(60)
    const followup = on.install.ids.followup
    const starting = await made<{ work: number }>(
      on.mara.post('/people/bulk', { who, does: { kind: 'startFollowup', followup } }),
    )
    expect((await workEnded(on.mara, starting.work)).state).toBe('done')
    expect(await mailFor(on.install, 'page1@pages.test')).toHaveLength(1)
  })
})

describe('an export of many', () => {
  it('has everybody once, in order, however many batches it takes', async () => {
    await on.q.rows(
      `insert into contact (address, address_key, first_name, marketing_state, created_at, updated_at)
       select i || '@many.test', i || '@many.test', 'Number ' || i, 'subscribed', now(), now()
       from generate_series(1, 4500) i`,
    )
    const who = encodeURIComponent(JSON.stringify({ search: '@many.test' }))
    const csv = await on.mara.download(`/people/export.csv?who=${who}`)
    expect(csv.headers.get('content-disposition')).toBe('attachment; filename=people.csv')
    const rows = parse<Record<string, string>>(await csv.text(), { columns: true })
    expect(rows.map(({ Email }) => Email)).toEqual(
      Array.from({ length: 4500 }, (_, i) => `${i + 1}@many.test`),
    )
    const lines = (await (await on.mara.download(`/people/export.jsonl?who=${who}`)).text())
      .trim()
      .split('\n')
    expect(lines).toHaveLength(4500)
    expect(JSON.parse(lines[4499]!)).toMatchObject({ address: '4500@many.test', marketing: 'subscribed' })
  })

  it('of nobody is a head without lines', async () => {
    const who = encodeURIComponent(JSON.stringify({ search: 'no such person' }))
    const text = await (await on.mara.download(`/people/export.csv?who=${who}`)).text()
    expect(text.split('\r\n').filter(Boolean)).toHaveLength(1)
    expect(text).toMatch(/^Email,First name/)
  })
})

describe('exports', () => {
  it('are CSV as RFC 4180 has it, with formulas made harmless whatever a spreadsheet takes for a separator', async () => {
    await on.add('formula@postbox.test', {
      firstName: '=HYPERLINK("http://x.test")',
      lastName: 'O"Brien; =1+1',
    })
    await on.add('formula2@postbox.test', { firstName: 'Nia; -2\t@SUM(1)', lastName: 'a;b' })
    const who = encodeURIComponent(JSON.stringify({ search: 'formula' }))
    const text = await (await on.mara.download(`/people/export.csv?who=${who}`)).text()
    expect(text).toMatch(/\r\n$/)
    // csv-parse as an independent reader of RFC 4180.
    const [first, second] = parse<Record<string, string>>(text, { columns: true, record_delimiter: '\r\n' })
    expect(first?.['First name']).toBe(`'=HYPERLINK("http://x.test")`)
    expect(first?.['Last name']).toBe(`O"Brien; '=1+1`)
    expect(second?.['First name']).toBe(`Nia; '-2\t'@SUM(1)`)
    // A field that holds a separator of any usual spreadsheet is quoted as a whole.
    expect(text).toContain('"a;b"')
    for (const delimiter of [',', ';', '\t'])
      for (const row of parse<string[]>(text, {
        delimiter,
        relax_quotes: true,
        relax_column_count: true,
        columns: (cells: string[]) => cells.map((_, i) => String(i)),
      }))
        for (const cell of Object.values(row)) expect(cell, delimiter).not.toMatch(/^["\s]*[=+\-@]/)
  })

  it('come as JSON lines too, and as everything about one person', async () => {
    const who = encodeURIComponent(JSON.stringify({ search: 'pages.test' }))
    const lines = (await (await on.mara.download(`/people/export.jsonl?who=${who}`)).text())
      .trim()
      .split('\n')
    expect(lines.map((line) => (JSON.parse(line) as { address: string }).address)).toHaveLength(60)
    const id = await on.add('mine@postbox.test', { consent: 'At the fair', tags: ['Kept'] })
    const data = (await (await on.mara.download(`/people/${id}/data.json`)).json()) as Record<
      string,
      unknown[]
    >
    expect(data.address).toBe('mine@postbox.test')
    expect(data.consents).toMatchObject([{ given: true, wording: 'At the fair' }])
    expect(data.history?.length).toBeGreaterThan(2)
    const csv = parse(await (await on.mara.download(`/people/${id}/data.csv`)).text(), { columns: true })
    expect(csv).toContainEqual({ What: 'address', Value: 'mine@postbox.test' })
  })

  it('say why when nobody can tell who is meant', async () => {
    const who = encodeURIComponent(JSON.stringify({ tree: { kind: 'hasTag', tag: 999_999 } }))
    expect((await on.mara.download(`/people/export.csv?who=${who}`)).status).toBe(409)
    expect((await on.mara.download('/people/export.csv?who=nonsense')).status).toBe(422)
  })
})
