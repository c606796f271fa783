import { describe, expect, it } from 'vitest'
import type { NamedLinkEdit, NamedLinkView } from '../../contract/namedLinks.ts'
import { useEmails } from '../../testing/emails.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish as publishPage } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'
import { formMark, readerMark } from '../pages/readers.ts'

const on = useInstall()
const { who, write, live, send, document, section, text, button } = useEmails(on)

const links = () => on.mara.get<NamedLinkView[]>('/named-links')
const edit = (given: Partial<NamedLinkEdit> = {}): NamedLinkEdit => ({
  name: `Yes, that is me ${who.n}`,
  target: { to: 'web', url: 'https://bench.test/yes' },
  actions: [{ does: 'addTag', tag: on.install.ids.tag }],
  ...given,
})
const add = async (given: Partial<NamedLinkEdit> = {}): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/named-links', edit(given)))).id
const viewOf = async (id: number) => (await links()).find((each) => each.id === id)!
const email = (link: number) =>
  live(write({ document: document(section([{ blocks: [button({ to: 'link', link })] }])) }))
const tagsOf = async (person: number): Promise<string[]> =>
  (await on.view(person)).tags.map(({ name }) => name)

describe('a named link', () => {
  it('leads from any email and page, does what it does once for a person, and has its own counts', async () => {
    const id = await add()
    await send(await email(id))
    const [mail] = await mailFor(on.install, who.address)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/yes')
    const person = (await on.find({ search: who.address })).rows[0]!.id
    expect(await tagsOf(person)).toEqual(['Template pack'])
    expect(JSON.stringify((await on.view(person)).journal)).toContain(`link “Yes, that is me ${who.n}”`)
    // Taken off since, it stays off, whichever way they come.
    await on.mara.post(`/people/${person}/tags`, { add: [], remove: [on.install.ids.tag] })
    const page = await publishPage(on, `links-${who.n}`, [text('x'), button({ to: 'link', link: id })])
    expect(page).toBeGreaterThan(0)
    const shown = await (await lookAt(`${on.install.url}/p/links-${who.n}`)).text()
    const href = new RegExp(`href="([^"]+/l/${id})"`).exec(shown)![1]!
    const own = `${href}?me=${readerMark(on.install.platform, person)}`
    for (const url of [own, href])
      expect((await lookAt(url)).headers.get('location')).toBe('https://bench.test/yes')
    await lookAt(href, { 'user-agent': 'Mozilla/5.0 (compatible; LinkChecker/1.0; bot)' })
    expect(await tagsOf(person)).toEqual([])
    expect(await viewOf(id)).toMatchObject({ people: 1, strangers: 1, machines: 1 })
    expect((await viewOf(id)).usedIn).toHaveLength(2)
  })

  it('does nothing when another site sends somebody there, whom their browser would name', async () => {
    const id = await add()
    const person = await on.add(who.address)
    const cookie = `reader=${readerMark(on.install.platform, person)}`
    const from = (site: string) => lookAt(`${on.install.url}/l/${id}`, { cookie, 'sec-fetch-site': site })
    for (const site of ['cross-site', 'same-site', 'none']) expect((await from(site)).status).toBe(302)
    expect([await tagsOf(person), await viewOf(id)]).toMatchObject([[], { people: 0, strangers: 3 }])
    await from('same-origin')
    expect([await tagsOf(person), (await viewOf(id)).people]).toEqual([['Template pack'], 1])
  })

  it('that was followed by two who turn out to be one does nothing more for them', async () => {
    const id = await add()
    const [kept, other] = [await on.add(who.address), await on.add(`other-${who.address}`)]
    const follow = (person: number) =>
      lookAt(`${on.install.url}/l/${id}?me=${readerMark(on.install.platform, person)}`)
    await follow(other)
    expect((await on.mara.post(`/people/${kept}/merge`, { other })).status).toBeLessThan(300)
    await on.mara.post(`/people/${kept}/tags`, { add: [], remove: [on.install.ids.tag] })
    await follow(kept)
    expect([await tagsOf(kept), (await viewOf(id)).people]).toEqual([[], 1])
  })

  it('does nothing for whoever typed an address into a form: they may not be the person', async () => {
    const id = await add()
    const person = await on.add(who.address)
    await lookAt(`${on.install.url}/l/${id}?me=${formMark(on.install.platform, person)}`)
    expect([await tagsOf(person), (await viewOf(id)).strangers]).toEqual([[], 1])
  })

  it('leads elsewhere once it is changed, also from mail that was sent', async () => {
    const id = await add()
    await send(await email(id))
    const [mail] = await mailFor(on.install, who.address)
    const target = { to: 'path', path: '/p/template-pack' } as const
    expect((await on.mara.post(`/named-links/${id}/save`, edit({ target, actions: [] }))).status).toBe(204)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toContain('/p/template-pack?me=')
    const refused = await on.mara.post(`/named-links/${id}/delete`)
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringContaining('Letter')])
    const unused = await add({ name: `Unused ${who.n}` })
    expect((await on.mara.post(`/named-links/${unused}/delete`)).status).toBe(204)
    expect((await lookAt(`${on.install.url}/l/${unused}`)).status).toBe(404)
  })

  it.each([
    [{ target: { to: 'nowhere' } as const }, 422],
    [{ target: { to: 'link', link: 1 } as const }, 422],
    [{ actions: [{ does: 'addTag', tag: 999_999 } as const] }, 422],
    [{ name: '' }, 422],
  ])('with %j is refused', async (given, status) => {
    expect((await on.mara.post('/named-links', edit(given))).status).toBe(status)
  })

  it('has a name of its own', async () => {
    await add({ name: 'Only one' })
    expect((await on.mara.post('/named-links', edit({ name: 'only ONE' }))).status).toBe(409)
  })
})
