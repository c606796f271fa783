import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import type { MergeFieldChoice, SharedDetailView } from '../../contract/sharedDetails.ts'
import { useEmails } from '../../testing/emails.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish as publishPage } from '../../testing/publishing.ts'
import { readerMark } from '../pages/readers.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { mailFor } from '../../testing/visitor.ts'

const on = useInstall()
const { who, text, write, live, send, create, view, block } = useEmails(on)

const details = () => on.mara.get<SharedDetailView[]>('/shared-details')
const detailOf = async (id: number) => (await details()).find((each) => each.id === id)!
const add = async (name: string, content: object): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/shared-details', { name, content }))).id
const save = (id: number, name: string, content: object) =>
  on.mara.post(`/shared-details/${id}/save`, { name, content })
const errorsOf = async (id: number): Promise<string[]> =>
  (await view(id)).findings.filter(({ level }) => level === 'error').map(({ words }) => words)

describe('a shared detail', () => {
  it('is said by pages and emails, and changed in one place for all of them', async () => {
    const id = await add('guest', { kind: 'text', text: 'Ines Vidal' })
    await publishPage(on, 'guest', [text('With {guest}.')])
    const page = async (): Promise<string> => (await lookAt(`${on.install.url}/p/guest`)).text()
    expect(await page()).toContain('With Ines Vidal.')
    const email = await live(write({ subject: 'With {guest}' }, text('Meet {guest}.')))
    expect((await detailOf(id)).usedIn).toEqual([`email Letter ${who.n}`, expect.stringContaining('page ')])

    expect((await save(id, 'guest', { kind: 'text', text: 'Tomas Brandl' })).status).toBe(204)
    await eventually(async () => (await page()).includes('With Tomas Brandl.'))
    await send(email)
    const [mail] = await mailFor(on.install, who.address)
    expect(mail!.subject).toBe('With Tomas Brandl')
    expect(mail!.text).toContain('Meet Tomas Brandl.')
  })

  it('goes on being said where it stands by a former name; it is deleted once nothing says it', async () => {
    const id = await add('host', { kind: 'text', text: 'Mara' })
    const email = await live(write({}, text('Your host is {host}.')))
    expect((await save(id, 'presenter', { kind: 'text', text: 'Mara' })).status).toBe(204)
    expect(await errorsOf(email)).toEqual([])
    await send(email)
    expect((await mailFor(on.install, who.address))[0]!.text).toContain('Your host is Mara.')
    const refused = await on.mara.post(`/shared-details/${id}/delete`)
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringContaining('in use')])
    const unused = await add('unused', { kind: 'text', text: 'x' })
    expect((await on.mara.post(`/shared-details/${unused}/delete`)).status).toBe(204)
    expect((await on.mara.post(`/shared-details/${unused}/delete`)).status).toBe(404)
  })

  it('that is a moment is told on each reader’s clock, and its past is noticed', async () => {
    const id = await add('open day', { kind: 'moment', local: '2030-07-01T18:30', zone: 'Europe/Dublin' })
    const content = write({ subject: 'At {open day as time}' })
    const email = await live(content)
    const person = await on.add(who.address, { firstName: 'Orla' })
    await on.q.rows(`update contact set zone = 'America/New_York' where id = $1`, [person])
    await send(email)
    // Dublin has UTC+1 in July, New York UTC−4.
    expect((await mailFor(on.install, who.address))[0]!.subject).toContain('At 13:30')
    expect((await detailOf(id)).past).toBe(false)
    await save(id, 'open day', { kind: 'moment', local: '2020-07-01T18:30', zone: 'Europe/Dublin' })
    expect((await detailOf(id)).past).toBe(true)
    const { findings } = await view(email)
    expect(findings.map(({ words }) => words)).toContain('“open day” is past: change it under Shared details')
  })

  it('that is a picture stands in the blocks that show it', async () => {
    const [picture, other] = await Promise.all(
      ['#345', '#543'].map(async (background) => {
        const drawn = await sharp({ create: { width: 64, height: 64, channels: 3, background } })
          .png()
          .toBuffer()
        return (await made<{ id: number }>(on.mara.send('/pictures/upload?name=p.png', drawn))).id
      }),
    )
    const id = await add('poster', { kind: 'picture', picture, alt: 'A poster' })
    const email = await live(write({}, block('picture', { detail: id, alt: 'A poster' })))
    const shown = async (): Promise<string> =>
      (await on.mara.download(`/emails/${email}/preview-html?of=published`)).text()
    expect(await shown()).toContain(`/pictures/${picture}-`)
    expect((await save(id, 'poster', { kind: 'picture', picture: other, alt: 'Another' })).status).toBe(204)
    expect(await shown()).toContain(`/pictures/${other}-`)
    expect((await detailOf(id)).usedIn).toEqual([`email Letter ${who.n}`])
  })

  it.each([
    ['first name', { kind: 'text', text: 'x' }, 409, 'Everybody has a field of that name'],
    ['as it is', { kind: 'text', text: 'x' }, 422, 'as'],
    ['{x}', { kind: 'text', text: 'x' }, 422, 'braces'],
    ['nowhere', { kind: 'moment', local: '2030-01-01T10:00', zone: 'Moon/Base' }, 422, 'time zone'],
    ['never', { kind: 'moment', local: 'soon', zone: 'UTC' }, 422, 'Choose a date and a time'],
    ['shown', { kind: 'picture', picture: 999_999, alt: 'x' }, 422, 'deleted'],
  ])('named %j with %j is refused with what to do', async (name, content, status, words) => {
    const answer = await on.mara.post('/shared-details', { name, content })
    expect([answer.status, await answer.text()]).toEqual([status, expect.stringContaining(words)])
  })

  it('keeps its type and its name to itself', async () => {
    const id = await add('only', { kind: 'text', text: 'x' })
    expect(
      (await on.mara.post('/shared-details', { name: 'Only', content: { kind: 'text', text: 'y' } })).status,
    ).toBe(409)
    const answer = await save(id, 'only', { kind: 'moment', local: '2030-01-01T10:00', zone: 'UTC' })
    expect([answer.status, await answer.text()]).toEqual([409, expect.stringContaining('type')])
  })
})

describe('merge fields', () => {
  it('are offered with what they say to a person, in each way it can be said', async () => {
    const shelf = await made<{ id: number }>(
      on.mara.post('/fields', { name: 'Shelf', kind: 'number', options: [] }),
    )
    const person = await on.add(who.address, { firstName: 'orla' })
    await on.q.rows('update contact set fields = $2 where id = $1', [
      person,
      JSON.stringify({ [shelf.id]: 1200.5 }),
    ])
    const choices = await on.mara.get<MergeFieldChoice[]>(`/merge-fields?person=${person}`)
    const of = (name: string) => choices.find((each) => each.name === name)
    expect(of('first name')).toMatchObject({ from: 'person', formats: ['name'], says: ['Orla'] })
    expect(of('Shelf')).toMatchObject({ formats: ['number', 'wholeNumber'], says: ['1,200.5', '1,201'] })
    const strange = await on.mara.get<MergeFieldChoice[]>('/merge-fields')
    expect(strange.find(({ name }) => name === 'Shelf')).toMatchObject({ says: null })
  })

  it('of own fields are said on pages to whom they are known, and to nobody else', async () => {
    const size = await made<{ id: number }>(
      on.mara.post('/fields', {
        name: 'Sheet size',
        kind: 'oneOf',
        options: [{ id: 'a5', label: 'A5, folded' }],
      }),
    )
    const person = await on.add(who.address)
    await on.q.rows('update contact set fields = $2 where id = $1', [
      person,
      JSON.stringify({ [size.id]: 'a5' }),
    ])
    await publishPage(on, 'sheets', [text("You cut {sheet size or 'any sheet'}.")])
    const read = async (mark = ''): Promise<string> =>
      (await lookAt(`${on.install.url}/p/sheets${mark}`)).text()
    expect(await read()).toContain('You cut any sheet.')
    expect(await read(`?me=${readerMark(on.install.platform, person)}`)).toContain('You cut A5, folded.')
    // The next stranger reads nothing of it.
    expect(await read()).toContain('You cut any sheet.')
  })

  it('of own fields are said in emails, also after a field was renamed', async () => {
    const field = await made<{ id: number }>(
      on.mara.post('/fields', { name: 'Thread', kind: 'text', options: [] }),
    )
    const email = await live(write({}, text("You sew with {thread or 'any thread'}.")))
    const edit = { name: 'Thread colour', kind: 'text', options: [], archived: false }
    expect((await on.mara.post(`/fields/${field.id}`, edit)).status).toBe(204)
    expect(await errorsOf(email)).toEqual([])
    await send(email)
    expect((await mailFor(on.install, who.address))[0]!.text).toContain('You sew with any thread.')
    expect(await errorsOf(await create(write({ preheader: '{thread count}' })))).toEqual([
      '{thread count} is no merge field: write it as “Insert merge field” does',
    ])
  })
})
