import { describe, expect, it } from 'vitest'
import type { TagView, TopicView } from '../../../contract/audience/describing.ts'
import type { FollowupView } from '../../../contract/followups.ts'
import type { SampleView, SegmentView, WhyView } from '../../../contract/audience/segments.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import { made } from '../../../testing/people.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { countSegments } from '../segments/segmentCounts.ts'

const on = useInstall()
const tagsNow = () => on.mara.get<TagView[]>('/tags')
const idOf = async (name: string) => (await tagsNow()).find((tag) => tag.name === name)!.id

describe('tags', () => {
  it('are made by typing, put on and taken off, with who did it', async () => {
    const id = await on.add('tagged@postbox.test')
    await on.mara.post(`/people/${id}/tags`, { add: ['Stitcher'] })
    await on.mara.post(`/people/${id}/tags`, { remove: [await idOf('Stitcher')] })
    const { journal, tags } = await on.view(id)
    expect(tags).toEqual([])
    expect(
      journal
        .filter(({ title }) => title.includes('Stitcher'))
        .map(({ title, reason }) => `${title} ${reason}`),
    ).toEqual(['lost the tag “Stitcher” by Mara Ellery', 'got the tag “Stitcher” by Mara Ellery'])
  })

  it('take all that use them along when they are renamed or merged', async () => {
    const id = await on.add('follows@postbox.test', { tags: ['Attendee', 'Guest'] })
    const [attendee, guest] = [await idOf('Attendee'), await idOf('Guest')]
    const tree: Condition = {
      kind: 'any',
      of: [
        { kind: 'hasTag', tag: guest },
        { kind: 'did', activity: 'tagAdded', details: { tag: guest }, atLeast: 1 },
      ],
    }
    const segment = await made<{ id: number }>(on.mara.post('/segments', { name: 'Guests', tree }))
    await on.q.rows(
      `with changed as (update followup set program = jsonb_set(program, '{steps,2,arms,0,steps,1,tag}', to_jsonb($1::bigint)))
       update followup_version set content = jsonb_set(content, '{steps,2,arms,0,steps,1,tag}', to_jsonb($1::bigint))`,
      [guest],
    )
    await on.mara.post(`/tags/${attendee}`, { name: 'Came along' })
    expect((await on.mara.post(`/tags/${guest}/merge`, { into: attendee })).status).toBe(204)

    const one = await on.view(id)
    expect(one.tags.map(({ name }) => name)).toEqual(['Came along'])
    expect(one.journal.some(({ title }) => title.includes('deleted'))).toBe(false)
    const kept = (await on.mara.get<SegmentView[]>('/segments')).find((each) => each.id === segment.id)!
    expect(kept).toMatchObject({
      people: 1,
      missing: [],
      sentence: 'has the tag “Came along” or got the tag “Came along”',
    })
    const { live, content } = await on.mara.get<FollowupView>(`/followups/${on.install.ids.followup}`)
    // What runs and what is written speak of it alike.
    for (const program of [live, content]) expect(JSON.stringify(program)).toContain(`"tag":${attendee},`)
  })

  it('refuse a name that is taken, and merging with themselves', async () => {
    await on.add('names@postbox.test', { tags: ['One', 'Two'] })
    expect((await on.mara.post(`/tags/${await idOf('One')}`, { name: 'two' })).status).toBe(409)
    expect((await on.mara.post(`/tags/${await idOf('One')}/merge`, { into: await idOf('One') })).status).toBe(
      409,
    )
  })
})

describe('a tag that is merged away', () => {
  it('is followed also by rules that wait for everybody’s score to be worked out', async () => {
    await on.add('waiting@postbox.test', { tags: ['Old name', 'New name'] })
    const [from, into] = [await idOf('Old name'), await idOf('New name')]
    const rule = { id: 'a', when: { kind: 'hasTag', tag: from }, points: 3 }
    const card = { behaviours: [], profile: [rule], bands: [{ id: 'cool', name: 'Cool', from: null }] }
    await on.q.rows(
      `insert into scorecard (name, card, next_card, created_at, updated_at) values ('Merging', $1, $1, now(), now())`,
      [JSON.stringify(card)],
    )
    await on.mara.post(`/tags/${from}/merge`, { into })
    const expected = { ...card, profile: [{ ...rule, when: { kind: 'hasTag', tag: into } }] }
    expect(await on.q.row(`select card, next_card from scorecard where name = 'Merging'`)).toEqual({
      card: expected,
      next_card: expected,
    })
  })
})

describe('topics', () => {
  it('are offered until they are archived, and agreements stay with the person', async () => {
    const topic = await made<{ id: number }>(
      on.mara.post('/topics', { name: 'Session news', description: 'When the next one is' }),
    )
    const id = await on.add('topical@postbox.test', { consent: 'Said so at the spring fair' })
    expect((await on.mara.post(`/people/${id}/topics`, { topic: topic.id, agreed: true })).status).toBe(204)
    const count = async () => (await on.mara.get<TopicView[]>('/topics')).find((each) => each.id === topic.id)
    expect(await count()).toMatchObject({ people: 1, archived: false })
    const archived = { name: 'Session news', description: '', archived: true }
    expect((await on.mara.post(`/topics/${topic.id}`, archived)).status).toBe(204)
    expect(await count()).toMatchObject({ people: 1, archived: true })
    expect((await on.view(id)).topics.map(({ name }) => name)).toEqual(['Session news'])
    await on.mara.post(`/people/${id}/topics`, { topic: topic.id, agreed: false })
    const titles = (await on.view(id)).journal.map(({ title }) => title)
    expect(titles.filter((title) => title.includes('Session news'))).toEqual([
      expect.stringContaining('left the topic “Session news”') as string,
      expect.stringContaining('joined the topic “Session news”') as string,
    ])
  })

  it('have a name each', async () => {
    await made(on.mara.post('/topics', { name: 'Letter' }))
    expect((await on.mara.post('/topics', { name: 'LETTER' })).status).toBe(409)
    expect((await on.mara.post('/topics', { name: '   ' })).status).toBe(422)
  })
})

describe('own fields', () => {
  it('keep their values when they are renamed or archived, and their kind for ever', async () => {
    const options = [
      { id: 'coptic', label: 'Coptic' },
      { id: 'long', label: 'Long-stitch' },
    ]
    const field = await made<{ id: number }>(
      on.mara.post('/fields', { name: 'Binding', kind: 'oneOf', options }),
    )
    const id = await on.add('binder@postbox.test', { fields: { [field.id]: 'coptic' } })
    const renamed = {
      name: 'Favourite binding',
      kind: 'oneOf',
      options: [{ id: 'coptic', label: 'Coptic sewing' }],
      archived: true,
    }
    expect((await on.mara.post(`/fields/${field.id}`, renamed)).status).toBe(204)
    expect((await on.view(id)).fields).toEqual({ [field.id]: 'coptic' })
    expect((await on.mara.post(`/fields/${field.id}`, { ...renamed, kind: 'text' })).status).toBe(409)
    expect((await on.mara.post('/fields', { name: 'Empty choice', kind: 'oneOf', options: [] })).status).toBe(
      422,
    )
  })
})

describe('values of own fields', () => {
  it.each([
    ['number', '1,250.5', 1250.5],
    ['number', '3,5', 3.5],
    ['date', '24.11.2026', '2026-11-24'],
    ['yesNo', 'Yes', true],
    ['manyOf', 'Thread; Paper', ['thread', 'paper']],
    ['text', '  as typed  ', 'as typed'],
  ] as const)('of the kind %s are read as people write them: %s', async (kind, typed, value) => {
    const options = [
      { id: 'thread', label: 'Thread' },
      { id: 'paper', label: 'Paper' },
    ]
    const name = `${kind} ${typed}`
    const field = await made<{ id: number }>(on.mara.post('/fields', { name, kind, options }))
    const id = await on.add(`${kind}${field.id}@fields.test`, { fields: { [field.id]: typed } })
    expect((await on.view(id)).fields).toEqual({ [field.id]: value })
    // Emptied, it is known no more; what is not mentioned stays.
    await on.mara.post(`/people/${id}`, { address: `${kind}${field.id}@fields.test`, fields: {} })
    expect((await on.view(id)).fields).toEqual({ [field.id]: value })
    await on.mara.post(`/people/${id}`, {
      address: `${kind}${field.id}@fields.test`,
      fields: { [field.id]: ' ' },
    })
    expect((await on.view(id)).fields).toEqual({})
  })

  it('that are none are refused at their place, all at once, and nothing is changed', async () => {
    const number = await made<{ id: number }>(on.mara.post('/fields', { name: 'How many', kind: 'number' }))
    const day = await made<{ id: number }>(on.mara.post('/fields', { name: 'Which day', kind: 'date' }))
    const id = await on.add('strict@fields.test', { firstName: 'Before' })
    const answer = await on.mara.post(`/people/${id}`, {
      address: 'strict@fields.test',
      firstName: 'After',
      // Day and month cannot be told apart in the second.
      fields: { [number.id]: 'seven', [day.id]: '03/04/2026' },
    })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({
      fields: {
        [`fields.${number.id}`]: 'How many: “seven” is not a number',
        [`fields.${day.id}`]: 'Which day: “03/04/2026” is not a date such as 2026-11-24 or 24.11.2026',
      },
    })
    expect((await on.view(id)).firstName).toBe('Before')
  })
})

describe('segments', () => {
  const subscribed: Condition = { kind: 'state', is: ['subscribed'] }

  it('are counted, sampled, and explained person by person', async () => {
    await on.add('sampled@postbox.test', { consent: 'Said so at the spring fair', tags: ['Template pack'] })
    const tree: Condition = { kind: 'all', of: [subscribed, { kind: 'hasTag', tag: on.install.ids.tag }] }
    const sample = await made<SampleView>(on.mara.post('/people/sample', { tree }))
    expect(sample.sentence).toBe('is subscribed and has the tag “Template pack”')
    expect(sample.rows.length).toBeGreaterThan(0)
    const { people } = await made<{ people: number }>(on.mara.post('/people/count', { tree }))
    expect(people).toBe(sample.rows.length)
    const inside = await made<WhyView>(on.mara.post('/people/why', { tree, contact: sample.rows[0]!.id }))
    expect(inside).toMatchObject({
      holds: true,
      reason: expect.stringContaining('has the tag “Template pack”: yes') as string,
    })
  })

  it('cannot ask for themselves, not even round a corner', async () => {
    const first = await made<{ id: number }>(on.mara.post('/segments', { name: 'First', tree: subscribed }))
    const second = await made<{ id: number }>(
      on.mara.post('/segments', { name: 'Second', tree: { kind: 'segment', segment: first.id } }),
    )
    const answer = await on.mara.post(`/segments/${first.id}`, {
      name: 'First',
      tree: { kind: 'not', of: { kind: 'segment', segment: second.id } },
    })
    expect(answer.status).toBe(409)
  })

  it('that speak of something deleted are shown as broken, and nothing is done with them', async () => {
    const id = await on.add('lost@postbox.test', { tags: ['Short-lived'] })
    const tag = (await on.view(id)).tags[0]!.id
    const tree: Condition = { kind: 'not', of: { kind: 'hasTag', tag } }
    await made(on.mara.post('/segments', { name: 'Not short-lived', tree }))
    await on.mara.post(`/tags/${tag}/delete`)
    const broken = (await on.mara.get<SegmentView[]>('/segments')).find(
      ({ name }) => name === 'Not short-lived',
    )
    expect(broken).toMatchObject({ people: null, missing: [`the tag something deleted (${tag})`] })
    const refused = await on.mara.post('/people/count', { tree })
    expect(refused.status).toBe(409)
    expect(await refused.json()).toMatchObject({ title: 'This condition is incomplete' })
    const why = await made<WhyView>(on.mara.post('/people/why', { tree, contact: id }))
    expect(why.holds).toBeNull()
  })

  it('keep a number a day', async () => {
    await countSegments(on.install.platform)
    on.install.clock.move(86_400_000)
    await countSegments(on.install.platform)
    const { trend } = (await on.mara.get<SegmentView[]>('/segments')).find(({ name }) => name === 'First')!
    expect(trend.map(({ day }) => day)).toEqual(['2026-11-24', '2026-11-25'])
  })
})
