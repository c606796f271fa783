import { parse } from 'csv-parse/sync'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ContactList, PersonView, TagCount } from '../../contract/audience.ts'
import type { FollowupView } from '../../contract/followups.ts'
import type { SampleView, SegmentView, WhyView } from '../../contract/segments.ts'
import type { Condition } from '../../core/audience/condition.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { importAll, made, workEnded } from '../../testing/people.ts'
import { mailFor, postForm } from '../../testing/visitor.ts'
import { countSegments } from './segmentCounts.ts'

let install: TestInstall
let mara: Marketer
beforeAll(async () => {
  install = await openInstall()
  await install.startWorker()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

const q = () => install.platform.database
const find = (wish: object) => made<ContactList>(mara.post('/people/find', wish))
const add = async (address: string, more: object = {}): Promise<number> =>
  (await made<{ id: number }>(mara.post('/people', { address, ...more }))).id
const view = (id: number) => mara.get<PersonView>(`/people/${id}`)
const titles = async (id: number) => (await view(id)).journal.map(({ title }) => title)

describe('a person', () => {
  it('is added with everything, read as people write it', async () => {
    const own = await made<{ id: number }>(mara.post('/fields', { name: 'First book', kind: 'date' }))
    const id = await add('Orla@Postbox.test', {
      firstName: 'Orla',
      phone: '01 234 5678',
      country: 'ie',
      zone: 'Europe/Dublin',
      fields: { [own.id]: '24.11.2026' },
      consent: 'Said so at the spring fair',
      tags: ['Fair', 'fair', 'Buyer'],
    })
    const orla = await view(id)
    // ITU-T E.164: + and country, no signs.
    expect(orla).toMatchObject({ phone: '+35312345678', country: 'IE', marketingState: 'subscribed' })
    expect(orla.fields).toEqual({ [own.id]: '2026-11-24' })
    expect(orla.tags.map(({ name }) => name)).toEqual(['Fair', 'Buyer'])
    expect(orla.consents[0]).toMatchObject({
      wording: 'Said so at the spring fair',
      source: 'added by Mara Ellery',
    })
  })

  it('whom nobody asked is on the list, and gets no marketing', async () => {
    expect((await view(await add('unasked@postbox.test'))).marketingState).toBe('neverAsked')
  })

  it.each([
    [{ address: 'none' }, 'address'],
    [{ country: 'XX' }, 'country'],
    [{ phone: '12' }, 'phone'],
    [{ zone: 'Mars/Olympus' }, 'zone'],
    [{ firstName: 'x'.repeat(81) }, 'firstName'],
    [{ address: 'ORLA@postbox.test' }, 'address'],
  ])('with %j is refused at that place', async (wrong, place) => {
    const answer = await mara.post('/people', { address: 'fine@postbox.test', ...wrong })
    expect([409, 422]).toContain(answer.status)
    expect(Object.keys(((await answer.json()) as { fields: object }).fields)).toEqual([place])
  })

  it('is changed, and the journal names what and who', async () => {
    const id = await add('tom@postbox.test', { firstName: 'Tom' })
    await mara.post(`/people/${id}`, { address: 'tom@postbox.test', firstName: 'Thomas', country: 'IE' })
    const line = (await view(id)).journal.find(({ title }) => title === 'was changed')
    expect(line?.reason).toContain('first name, country, by Mara Ellery')
  })
})

describe('two people who are one', () => {
  it('become one with both histories, and both addresses lead to them', async () => {
    await postForm(install.url, { address: 'old@postbox.test', firstName: 'Nia' })
    await mailFor(install, 'old@postbox.test')
    const old = (await q().row<{ id: number }>(
      `select id from contact where address_key = 'old@postbox.test'`,
    ))!.id
    const id = await add('new@postbox.test', { lastName: 'Fairburn', tags: ['Template pack', 'Buyer'] })
    expect((await mara.post(`/people/${id}/merge`, { other: old })).status).toBe(204)

    const one = await view(id)
    expect(one).toMatchObject({
      name: 'Nia Fairburn',
      marketingState: 'subscribed',
      otherAddresses: ['old@postbox.test'],
    })
    expect(one.tags.map(({ name }) => name).sort()).toEqual(['Buyer', 'Template pack'])
    expect(await titles(id)).toEqual(
      expect.arrayContaining([
        'sent the form of “Template pack”',
        'was sent “Your template pack”',
        'was merged with “old@postbox.test”',
      ]),
    )
    expect((await mara.get<unknown[]>(`/people/${id}/enrolments`)).length).toBe(1)
    // Who signs up with the old address, or is imported under it, is still this person.
    await postForm(install.url, { address: 'OLD@postbox.test', firstName: 'Niamh' })
    await importAll(mara, 'email,last name\nold@postbox.test,Bracken\n')
    expect(await view(id)).toMatchObject({ name: 'Niamh Bracken' })
    expect((await find({ search: 'old@postbox.test' })).rows).toEqual([])
  })

  it('stay unsubscribed if either was', async () => {
    const [keep, other] = [
      await add('yes@postbox.test', { consent: 'At the fair' }),
      await add('no@postbox.test'),
    ]
    await q().rows(`update contact set marketing_state = 'unsubscribed' where id = $1`, [other])
    await mara.post(`/people/${keep}/merge`, { other })
    expect((await view(keep)).marketingState).toBe('unsubscribed')
  })

  it('are not one person twice', async () => {
    const id = await add('self@postbox.test')
    expect((await mara.post(`/people/${id}/merge`, { other: id })).status).toBe(409)
  })
})

describe('erasing', () => {
  it('leaves no trace but a hash, which keeps an import from bringing the person back', async () => {
    await postForm(install.url, { address: 'gone@postbox.test', firstName: 'Gwendolyn' })
    await mailFor(install, 'gone@postbox.test')
    const { id } = (await q().row<{ id: number }>(
      `select id from contact where address_key = 'gone@postbox.test'`,
    ))!
    expect((await mara.post(`/people/${id}/erase`)).status).toBe(204)

    const tables = await q().rows<{ name: string }>(
      `select c.relname name from pg_class c join pg_namespace n on n.oid = relnamespace
       where relkind = 'r' and nspname = 'public' and relname not like 'import_stage%'`,
    )
    for (const { name } of tables) {
      const found = await q().rows(
        `select 1 from ${name} t where t::text ilike '%gone@postbox%' or t::text ilike '%gwendolyn%'`,
      )
      expect(found, name).toEqual([])
    }
    const { view: seen } = await importAll(mara, 'email\ngone@postbox.test\n')
    expect(seen.counts).toMatchObject({ added: 0, suppressed: 1 })
    // Signing up again is their own wish.
    await postForm(install.url, { address: 'gone@postbox.test' })
    expect((await find({ search: 'gone@postbox.test' })).rows).toHaveLength(1)
  })
})

describe('tags', () => {
  const tagsNow = () => mara.get<TagCount[]>('/tags')
  const idOf = async (name: string) => (await tagsNow()).find((tag) => tag.name === name)!.id

  it('are made by typing, put on and taken off, with who did it', async () => {
    const id = await add('tagged@postbox.test')
    await mara.post(`/people/${id}/tags`, { add: ['Stitcher'] })
    await mara.post(`/people/${id}/tags`, { remove: [await idOf('Stitcher')] })
    const { journal, tags } = await view(id)
    expect(tags).toEqual([])
    expect(
      journal
        .filter(({ title }) => title.includes('Stitcher'))
        .map(({ title, reason }) => `${title} ${reason}`),
    ).toEqual(['lost the tag “Stitcher” by Mara Ellery', 'got the tag “Stitcher” by Mara Ellery'])
  })

  it('take all that use them along when they are renamed or merged', async () => {
    const id = await add('follows@postbox.test', { tags: ['Attendee', 'Guest'] })
    const [attendee, guest] = [await idOf('Attendee'), await idOf('Guest')]
    const tree: Condition = {
      kind: 'any',
      of: [
        { kind: 'hasTag', tag: guest },
        { kind: 'did', activity: 'tagAdded', details: { tag: guest }, atLeast: 1 },
      ],
    }
    const segment = await made<{ id: number }>(mara.post('/segments', { name: 'Guests', tree }))
    await q().rows(
      `update followup set program = jsonb_set(program, '{steps,2,arms,0,steps,1,tag}', to_jsonb($1::bigint))`,
      [guest],
    )
    await mara.post(`/tags/${attendee}`, { name: 'Came along' })
    expect((await mara.post(`/tags/${guest}/merge`, { into: attendee })).status).toBe(204)

    const one = await view(id)
    expect(one.tags.map(({ name }) => name)).toEqual(['Came along'])
    expect(one.journal.some(({ title }) => title.includes('deleted'))).toBe(false)
    const kept = (await mara.get<SegmentView[]>('/segments')).find((each) => each.id === segment.id)!
    expect(kept).toMatchObject({
      people: 1,
      missing: [],
      sentence: 'has the tag “Came along” or got the tag “Came along”',
    })
    const { stepViews } = await mara.get<FollowupView>(`/followups/${install.ids.followup}`)
    expect(stepViews.map(({ title }) => title)).toContain('tag “Came along”')
  })

  it('refuse a name that is taken, and merging with themselves', async () => {
    await add('names@postbox.test', { tags: ['One', 'Two'] })
    expect((await mara.post(`/tags/${await idOf('One')}`, { name: 'two' })).status).toBe(409)
    expect((await mara.post(`/tags/${await idOf('One')}/merge`, { into: await idOf('One') })).status).toBe(
      409,
    )
  })
})

describe('own fields', () => {
  it('keep their values when they are renamed or archived, and their kind for ever', async () => {
    const options = [
      { id: 'coptic', label: 'Coptic' },
      { id: 'long', label: 'Long-stitch' },
    ]
    const field = await made<{ id: number }>(
      mara.post('/fields', { name: 'Binding', kind: 'oneOf', options }),
    )
    const id = await add('binder@postbox.test', { fields: { [field.id]: 'coptic' } })
    const renamed = {
      name: 'Favourite binding',
      kind: 'oneOf',
      options: [{ id: 'coptic', label: 'Coptic sewing' }],
      archived: true,
    }
    await made(mara.post(`/fields/${field.id}`, renamed))
    expect((await view(id)).fields).toEqual({ [field.id]: 'coptic' })
    expect((await mara.post(`/fields/${field.id}`, { ...renamed, kind: 'text' })).status).toBe(409)
    expect((await mara.post('/fields', { name: 'Empty choice', kind: 'oneOf', options: [] })).status).toBe(
      422,
    )
  })
})

describe('segments', () => {
  const subscribed: Condition = { kind: 'state', is: ['subscribed'] }

  it('are counted, sampled, and explained person by person', async () => {
    const tree: Condition = { kind: 'all', of: [subscribed, { kind: 'hasTag', tag: install.ids.tag }] }
    const sample = await made<SampleView>(mara.post('/people/sample', { tree }))
    expect(sample.sentence).toBe('is subscribed and has the tag “Template pack”')
    expect(sample.rows.length).toBeGreaterThan(0)
    const { people } = await made<{ people: number }>(mara.post('/people/count', { tree }))
    expect(people).toBe(sample.rows.length)
    const inside = await made<WhyView>(mara.post('/people/why', { tree, contact: sample.rows[0]!.id }))
    expect(inside).toMatchObject({
      holds: true,
      reason: expect.stringContaining('has the tag “Template pack”: yes') as string,
    })
  })

  it('cannot ask for themselves, not even round a corner', async () => {
    const first = await made<{ id: number }>(mara.post('/segments', { name: 'First', tree: subscribed }))
    const second = await made<{ id: number }>(
      mara.post('/segments', { name: 'Second', tree: { kind: 'segment', segment: first.id } }),
    )
    const answer = await mara.post(`/segments/${first.id}`, {
      name: 'First',
      tree: { kind: 'not', of: { kind: 'segment', segment: second.id } },
    })
    expect(answer.status).toBe(409)
  })

  it('that speak of something deleted are shown as broken, and nothing is done with them', async () => {
    const id = await add('lost@postbox.test', { tags: ['Short-lived'] })
    const tag = (await view(id)).tags[0]!.id
    const tree: Condition = { kind: 'not', of: { kind: 'hasTag', tag } }
    await made(mara.post('/segments', { name: 'Not short-lived', tree }))
    await mara.post(`/tags/${tag}/delete`)
    const broken = (await mara.get<SegmentView[]>('/segments')).find(({ name }) => name === 'Not short-lived')
    expect(broken).toMatchObject({ people: null, missing: [`the tag something deleted (${tag})`] })
    const refused = await mara.post('/people/count', { tree })
    expect(refused.status).toBe(409)
    expect(await refused.json()).toMatchObject({ title: 'Nobody can tell who is meant' })
    const why = await made<WhyView>(mara.post('/people/why', { tree, contact: id }))
    expect(why.holds).toBeNull()
  })

  it('keep a number a day', async () => {
    await countSegments(install.platform)
    install.clock.move(86_400_000)
    await countSegments(install.platform)
    const { trend } = (await mara.get<SegmentView[]>('/segments')).find(({ name }) => name === 'First')!
    expect(trend.map(({ day }) => day)).toEqual(['2026-11-24', '2026-11-25'])
  })
})

describe('the list', () => {
  it('goes on from page to page without leaving anybody out, in every order', async () => {
    await importAll(
      mara,
      `email,first name\n${Array.from({ length: 60 }, (_, i) => `page${i}@pages.test,${i % 7 ? `Same` : ''}`).join('\n')}\n`,
    )
    for (const sort of ['newest', 'oldest', 'name', 'address']) {
      const seen: string[] = []
      let after: string | null = null
      do {
        const page: ContactList = await find({ search: 'pages.test', sort, after, size: 17 })
        seen.push(...page.rows.map(({ address }) => address))
        after = page.next
      } while (after !== null)
      expect(seen).toHaveLength(60)
      expect(new Set(seen).size).toBe(60)
    }
  })

  it('finds any part of a name or address, and takes signs for signs', async () => {
    await add('percent_sign@postbox.test', { firstName: '100%' })
    for (const search of ['ercent_s', '100%', 'PERCENT', '10', 'pe'])
      expect(
        (await find({ search })).rows.map(({ address }) => address),
        search,
      ).toContain('percent_sign@postbox.test')
    expect((await find({ search: 'percent-sign' })).rows).toEqual([])
  })

  it('begins anew when the place to go on from cannot be read', async () => {
    expect((await find({ after: 'nonsense', size: 1 })).rows).toHaveLength(1)
  })
})

describe('doing something to everybody who is meant', () => {
  it('tags them, or lets them into a follow-up, in one piece of work', async () => {
    const who = { search: 'pages.test' }
    const tagging = await made<{ work: number }>(
      mara.post('/people/bulk', { who, does: { kind: 'addTag', tag: 'Paged' } }),
    )
    expect(await workEnded(mara, tagging.work)).toMatchObject({
      title: 'Put a tag on 60 people',
      said: 'Done for 60 people.',
    })
    expect((await mara.get<TagCount[]>('/tags')).find(({ name }) => name === 'Paged')?.people).toBe(60)
    const followup = install.ids.followup
    const starting = await made<{ work: number }>(
      mara.post('/people/bulk', { who, does: { kind: 'startFollowup', followup } }),
    )
    expect((await workEnded(mara, starting.work)).state).toBe('done')
    expect(await mailFor(install, 'page1@pages.test')).toHaveLength(1)
  })
})

describe('exports', () => {
  it('are CSV as RFC 4180 has it, with formulas made harmless', async () => {
    await add('formula@postbox.test', {
      firstName: '=HYPERLINK("http://x.test")',
      lastName: 'O"Brien, +the elder',
    })
    const who = encodeURIComponent(JSON.stringify({ search: 'formula@' }))
    const text = await (await mara.download(`/people/export.csv?who=${who}`)).text()
    expect(text).toMatch(/\r\n$/)
    // csv-parse as an independent reader of RFC 4180.
    const [line] = parse<Record<string, string>>(text, { columns: true, record_delimiter: '\r\n' })
    expect(line?.['First name']).toBe(`'=HYPERLINK("http://x.test")`)
    expect(line?.['Last name']).toBe('O"Brien, +the elder')
  })

  it('come as JSON lines too, and as everything about one person', async () => {
    const who = encodeURIComponent(JSON.stringify({ search: 'pages.test' }))
    const lines = (await (await mara.download(`/people/export.jsonl?who=${who}`)).text()).trim().split('\n')
    expect(lines.map((line) => (JSON.parse(line) as { address: string }).address)).toHaveLength(60)
    const id = await add('mine@postbox.test', { consent: 'At the fair', tags: ['Kept'] })
    const data = (await (await mara.download(`/people/${id}/data.json`)).json()) as Record<string, unknown[]>
    expect(data.address).toBe('mine@postbox.test')
    expect(data.consents).toMatchObject([{ given: true, wording: 'At the fair' }])
    expect(data.history?.length).toBeGreaterThan(2)
    const csv = parse(await (await mara.download(`/people/${id}/data.csv`)).text(), { columns: true })
    expect(csv).toContainEqual({ What: 'address', Value: 'mine@postbox.test' })
  })

  it('say why when nobody can tell who is meant', async () => {
    const who = encodeURIComponent(JSON.stringify({ tree: { kind: 'hasTag', tag: 999_999 } }))
    expect((await mara.download(`/people/export.csv?who=${who}`)).status).toBe(409)
    expect((await mara.download('/people/export.csv?who=nonsense')).status).toBe(422)
  })
})
