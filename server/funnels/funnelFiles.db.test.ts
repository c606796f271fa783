import { describe, expect, it } from 'vitest'
import { useFunnels } from '../../testing/begunFunnels.ts'
import { made } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })
const { begin, view, errorsOf, file } = useFunnels(on)

describe('a funnel file', () => {
  const exported = async (id: number): Promise<string> =>
    (await on.mara.download(`/funnels/${id}/funnel.json`)).text()
  const bring = (text: string, query = ''): Promise<Response> => on.mara.send(`/funnels/import${query}`, text)

  it('of something that is sold brings its products; deadlines and coupons of the same name stand for its own', async () => {
    const { id } = await begin('one-more-look')
    await on.mara.post('/coupons', {
      code: 'LOOK-AGAIN',
      off: { by: 'percent', percent: 10 },
      each: { lasts: null },
    })
    await on.q.rows(
      `update followup_version set content = jsonb_set(content, '{steps,0}',
         '{"kind":"makeCoupon","id":"code","coupon":"LOOK-AGAIN"}')
       where followup_id = any(select unnest(followups) from funnel where id = $1)`,
      [id],
    )
    const text = await exported(id)
    const file = JSON.parse(text) as Record<'products' | 'deadlines' | 'coupons', { name?: string }[]>
    expect([file.products.length, file.deadlines.length, file.coupons]).toMatchObject([
      1,
      1,
      [{ code: 'LOOK-AGAIN' }],
    ])
    const counts = async (): Promise<number[]> => {
      const row = await on.q.row<{ counts: number[] }>(
        `select json_build_array((select count(*) from product), (select count(*) from deadline),
           (select count(*) from coupon)) counts`,
      )
      return row?.counts ?? []
    }
    const [products = 0, deadlines = 0, coupons = 0] = await counts()
    const came = await made<{ id: number }>(bring(text))
    expect(await counts()).toEqual([products + 1, deadlines, coupons])
    const [page] = (await view(came.id)).stations
    const sold = await on.q.row<{ name: string }>(
      `select product.name from page_version
       join product on to_jsonb(product.id) = jsonb_path_query_first(content, '$.**.offers[*].product')
       where page_id = $1`,
      [page?.page],
    )
    expect(sold?.name).toBe(`${(await view(id)).name} (2)`)
    // Elsewhere nothing of that name is there, and all of it comes.
    const [deadline] = file.deadlines
    await made(bring(text.replaceAll(deadline?.name ?? '', 'Elsewhere').replaceAll('LOOK-AGAIN', 'ELSE-10')))
    expect(await counts()).toEqual([products + 2, deadlines + 1, coupons + 1])
  })

  it('holds all of it, and comes in beside what is there: nothing is overwritten', async () => {
    const { id } = await begin('confirmed-file')
    await on.mara.post(`/funnels/${id}/give-file`, { file: file() })
    const text = await exported(id)
    expect(
      Buffer.from(
        (JSON.parse(text) as { files: { bytes: string }[] }).files[0]?.bytes ?? '',
        'base64',
      ).toString(),
    ).toBe('Fold along the grain.')
    const came = await made<{ id: number }>(bring(text))
    const [before, after] = [await view(id), await view(came.id)]
    expect(after.name).toBe(`${before.name} (2)`)
    expect(after.stations.map(({ purpose }) => purpose)).toEqual(
      before.stations.map(({ purpose }) => purpose),
    )
    // Addresses that are taken get a number.
    expect(after.stations.map(({ url }) => url)).toEqual(
      before.stations.map(({ url }) => url?.replace(/(start-\d+)/, '$1-2')),
    )
    expect((await errorsOf(came.id)).filter((words) => words.includes('same path'))).toEqual([])
    // The file came with it as another one.
    const third = JSON.stringify(await on.mara.get(`/pages/${after.stations[2]?.page}`))
    expect(third).not.toContain(`"file":${file()},`)
    // What it says is the same, but for numbers.
    const again = JSON.parse(await exported(came.id)) as Record<string, unknown[]>
    const first = JSON.parse(text) as Record<string, unknown[]>
    for (const list of ['pages', 'forms', 'emails', 'followups', 'files', 'tags'])
      expect(again[list]).toHaveLength(first[list]?.length ?? -1)
  })

  it('without its media takes files of the same name, and says what it did not find', async () => {
    const { id } = await begin('free-file')
    await on.mara.post(`/funnels/${id}/give-file`, { file: file() })
    const text = await (await on.mara.download(`/funnels/${id}/funnel.json?media=no`)).text()
    expect(text).not.toContain(Buffer.from('Fold along the grain.').toString('base64'))
    const came = await made<{ id: number }>(bring(text))
    expect((await errorsOf(came.id)).some((words) => words.includes('file'))).toBe(false)
    const lost = await made<{ id: number }>(bring(text.replaceAll('guide.txt', 'no-such.txt')))
    expect((await view(lost.id)).stations).toHaveLength(3)
  })

  it.each([
    ['a broken one', '{"format":"nurtel-funnel",', /This is no JSON/],
    ['another JSON', '{"a":1}', /no funnel/],
    ['one of a newer version', '{"format":"nurtel-funnel","version":9}', /newer Nurtel/],
    ['nothing', '', /This is no JSON/],
  ])('refuses %s with words, and changes nothing', async (_, text, words) => {
    const before = await on.q.rows('select from page')
    const answer = await bring(text)
    expect(answer.status).toBe(422)
    expect(((await answer.json()) as { detail: string }).detail).toMatch(words)
    expect(await on.q.rows('select from page')).toHaveLength(before.length)
  })

  it('of somebody hostile brings nothing that runs', async () => {
    const { id } = await begin('two-pages')
    const parsed = JSON.parse(await exported(id)) as {
      pages: { content: { document: { sections: { columns: { blocks: unknown[] }[] }[] } } }[]
    }
    parsed.pages[0]?.content.document.sections[0]?.columns[0]?.blocks.push({
      kind: 'ownHtml',
      id: 'hostile01',
      shownTo: null,
      markup: '<img src=x onerror=alert(1)><script>alert(2)</script><p>Fine</p>',
    })
    const came = await made<{ id: number }>(bring(JSON.stringify(parsed)))
    const page = JSON.stringify(await on.mara.get(`/pages/${(await view(came.id)).stations[0]?.page}`))
    expect(page).toContain('Fine')
    expect(page).not.toMatch(/onerror|<script/)
  })
})
