import { describe, expect, it } from 'vitest'
import type { EmailLinkView, MachineClickView } from '../../contract/emails.ts'
import { downloadUrl } from '../capture/downloads.ts'
import { emailLinks, linkKey, type EmailContent } from '../../core/email/email.ts'
import { formPage } from '../../testing/formPage.ts'
import { made } from '../../testing/people.ts'
import { computer, lookAt, publish as publishPage } from '../../testing/publishing.ts'
import { useEmails } from '../../testing/emails.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { who, text, button, write, create, view, publish, live, rowOf, send } = useEmails(on)

describe('a link that does something', () => {
  const doing = (actions: EmailContent['onClick'][string]): EmailContent => {
    const content = write()
    const [link] = emailLinks(content)
    return { ...content, onClick: { [linkKey(link!)]: actions } }
  }
  const tagsOf = async (): Promise<string[]> => {
    const { rows } = await on.find({ search: who.address })
    return (await on.view(rows[0]!.id)).tags.map(({ name }) => name)
  }
  const idOf = async (): Promise<number> => (await on.find({ search: who.address })).rows[0]!.id
  const links = (id: number) => on.mara.get<EmailLinkView[]>(`/emails/${id}/links`)

  it('does it once for a person, and the journal says by what', async () => {
    const { tag, followup } = on.install.ids
    const topic = (
      await made<{ id: number }>(on.mara.post('/topics', { name: `Thread ${who.n}`, description: '' }))
    ).id
    const field = await made<{ id: number }>(
      on.mara.post('/fields', { name: `Level ${who.n}`, kind: 'text', options: [] }),
    )
    const id = await live(
      doing([
        { does: 'addTag', tag },
        { does: 'joinTopic', topic },
        { does: 'setField', field: field.id, value: 'keen' },
        { does: 'startFollowup', followup },
      ]),
    )
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    await Promise.all([lookAt(buttonOf(mail!)), lookAt(buttonOf(mail!))])
    expect(await tagsOf()).toEqual(['Template pack'])
    const { rows } = await on.find({ search: who.address })
    const person = await on.view(rows[0]!.id)
    expect(person.fields).toMatchObject({ [field.id]: 'keen' })
    expect(person.topics.map((each) => each.id)).toContain(topic)
    const entered = await on.q.rows('select from enrolment where contact_id = $1', [person.id])
    expect(entered).toHaveLength(1)
    expect(JSON.stringify(person.journal)).toContain(`link “See the bench” in “Letter ${who.n}”`)
    // What was taken off since stays off: a second click does nothing more.
    await on.mara.post(`/people/${person.id}/tags`, { add: [], remove: [tag] })
    on.install.clock.move(120_000)
    await lookAt(buttonOf(mail!))
    expect(await tagsOf()).toEqual([])
    expect(await links(id)).toMatchObject([{ label: 'See the bench', people: 1, machines: 0, gone: false }])
  })

  it('takes somebody out of a follow-up, and nothing more of it is sent', async () => {
    const { followup } = on.install.ids
    const id = await live(doing([{ does: 'leaveFollowup', followup }]))
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    const person = await idOf()
    expect(
      (
        await on.mara.post('/people/bulk', {
          who: { only: [person] },
          does: { kind: 'startFollowup', followup },
        })
      ).status,
    ).toBe(200)
    const inside = () =>
      on.q.row('select from enrolment where contact_id = $1 and ended_at is null', [person])
    await eventually(async () => (await inside()) !== undefined)
    await on.q.rows(
      `insert into message (email_id, contact_id, enrolment_id, purpose, queued_at, due_at)
       select $1, contact_id, id, 'marketing', now(), 'infinity' from enrolment where contact_id = $2`,
      [on.install.emails.grain, person],
    )
    await lookAt(buttonOf(mail!))
    expect(await inside()).toBeUndefined()
    const journal = JSON.stringify((await on.view(person)).journal)
    expect(journal).toContain(`clicked the link “See the bench” in “Letter ${who.n}”`)
    const waits = await on.q.row(
      `select from message where contact_id = $1 and enrolment_id is not null and state = 'queued'`,
      [person],
    )
    expect(waits).toBeUndefined()
  })

  it('does nothing for a machine, which is counted apart', async () => {
    const id = await live(doing([{ does: 'addTag', tag: on.install.ids.tag }]))
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    const scanner = { 'user-agent': 'Mozilla/5.0 (compatible; MailScanner/1.0)' }
    expect((await lookAt(buttonOf(mail!), scanner)).status).toBe(302)
    await fetch(buttonOf(mail!), { method: 'HEAD', redirect: 'manual', headers: { 'user-agent': computer } })
    expect(await tagsOf()).toEqual([])
    expect(await links(id)).toMatchObject([{ people: 0, machines: 2 }])
    expect(await rowOf(id)).toMatchObject({ opened: 0, clicked: 0 })
    // Nor does it take a file in somebody's name, though it uses a download up.
    const person = await idOf()
    const file = downloadUrl(on.install.platform, on.install.ids.file, person)
    expect((await lookAt(file, scanner)).status).toBe(200)
    expect(JSON.stringify((await on.view(person)).journal)).not.toContain('downloaded')
    expect(await on.q.row('select from file_download where contact_id = $1', [person])).toBeDefined()
    await lookAt(buttonOf(mail!))
    expect(await tagsOf()).toEqual(['Template pack'])
  })

  it('counts and leads on though what it would do is gone; a draft that speaks of such things is not published', async () => {
    const gone = [
      { does: 'addTag', tag: 999_999 },
      { does: 'leaveTopic', topic: 999_999 },
      { does: 'setField', field: 999_999, value: 'x' },
      { does: 'startFollowup', followup: 999_999 },
    ] as const
    const id = await live()
    await on.q.rows('update email_link set actions = $2 where email_id = $1', [id, JSON.stringify(gone)])
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/first')
    for (const action of gone) {
      const refused = await publish(await create(doing([action])))
      expect(await refused.text()).toContain('Choose what a click on “See the bench” does')
    }
  })

  it('counts and does what it does though what it leads to is gone', async () => {
    const page = await publishPage(on, `gone-${who.n}`, [text('Soon gone.')])
    const content = write({}, button({ to: 'page', page }))
    const [first] = emailLinks(content)
    const { tag } = on.install.ids
    const id = await live({ ...content, onClick: { [linkKey(first!)]: [{ does: 'addTag', tag }] } })
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    expect((await on.mara.post(`/pages/${page}/delete`)).status).toBe(204)
    on.install.clock.move(60_000)
    expect((await lookAt(buttonOf(mail!))).status).toBe(404)
    expect(await tagsOf()).toEqual(['Template pack'])
    expect((await links(id))[0]).toMatchObject({ people: 1 })
  })

  it('confirms the address: what a form asked for in their name comes true', async () => {
    const tag = async (name: string): Promise<number> =>
      (await made<{ id: number }>(on.mara.post('/tags', { name, description: '' }))).id
    const [waiting, confirmed] = [await tag('Waits'), await tag('Said yes')]
    const page = await formPage(on, {
      confirm: { when: 'always', waitingTag: waiting, confirmedTag: confirmed },
      actions: [],
    })
    await page.send({ address: who.address, firstname: 'Orla', consent: 'yes' })
    await mailFor(on.install, who.address)
    expect(await tagsOf()).toEqual(['Waits'])
    const id = await live({ ...doing([{ does: 'confirmAddress' }]), purpose: 'transactional' })
    await on.q.rows(
      `insert into message (email_id, contact_id, purpose, queued_at, due_at) values ($1, $2, 'transactional', $3, $3)`,
      [id, await idOf(), new Date(on.install.clock.now())],
    )
    const mails = await mailFor(on.install, who.address, 2)
    await lookAt(buttonOf(mails.find(({ subject }) => !/confirm|yes/i.test(subject))!))
    expect(await tagsOf()).toEqual(['Said yes'])
    expect((await on.view(await idOf())).marketingState).toBe('subscribed')
  })

  it('is not published while something of it is open, and goes along into a copy', async () => {
    const open = await create(doing([{ does: 'addTag', tag: null }]))
    expect(await (await publish(open)).text()).toContain('Choose what a click on “See the bench” does')
    const id = await create(doing([{ does: 'addTag', tag: on.install.ids.tag }]))
    const copy = await made<{ id: number }>(on.mara.post(`/emails/${id}/copy`))
    const { content } = await view(copy.id)
    expect(content.onClick).toEqual({
      [linkKey(emailLinks(content)[0]!)]: [{ does: 'addTag', tag: on.install.ids.tag }],
    })
  })
})

describe('links that are followed in haste', () => {
  const two = async (actions: EmailContent['onClick'][string] = []) => {
    const content = write({}, button({ to: 'web', url: 'https://bench.test/second' }))
    const keys = emailLinks(content).map(linkKey)
    const id = await live({ ...content, onClick: Object.fromEntries(keys.map((key) => [key, actions])) })
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    return { id, urls: [...mail!.text.matchAll(/http\S+\/go\/\S+/g)].map(([url]) => url) }
  }
  const decide = async (): Promise<void> => {
    on.install.clock.move(13_000)
    await eventually(
      async () =>
        !(await on.q.row('select from machine_click where undecided and decide_at < $1', [
          new Date(on.install.clock.now()),
        ])),
    )
  }
  const links = (id: number) => on.mara.get<EmailLinkView[]>(`/emails/${id}/links`)
  const taken = (id: number) => on.mara.get<MachineClickView[]>(`/emails/${id}/machine-clicks`)
  const tagged = async (): Promise<boolean> =>
    (await on.view((await on.find({ search: who.address })).rows[0]!.id)).tags.length > 0

  it('all of them are followed by a scanner: nobody counts, nothing happens, until somebody knows better', async () => {
    const { id, urls } = await two([{ does: 'addTag', tag: on.install.ids.tag }])
    for (const url of urls) expect((await lookAt(url)).status).toBe(302)
    await decide()
    expect(await links(id)).toMatchObject([
      { people: 0, machines: 1 },
      { people: 0, machines: 1 },
    ])
    expect([await tagged(), (await rowOf(id)).opened]).toEqual([false, 0])
    const [click] = await taken(id)
    expect(click).toMatchObject({ agent: 'within seconds of delivery', undecided: false })
    const again = `/emails/${id}/machine-clicks/${click!.id}/person`
    expect((await on.mara.post(again)).status).toBe(204)
    expect([await tagged(), (await rowOf(id)).clicked, (await taken(id)).length]).toEqual([true, 1, 1])
    expect((await on.mara.post(again)).status).toBe(409)
  })

  it('beside a machine that names itself, the hasty click of a person is theirs', async () => {
    const { id, urls } = await two([{ does: 'addTag', tag: on.install.ids.tag }])
    const scanner = { 'user-agent': 'Mozilla/5.0 (compatible; MailScanner/1.0; bot)' }
    for (const url of urls) await lookAt(url, scanner)
    await lookAt(urls[0]!)
    await decide()
    expect([await tagged(), (await rowOf(id)).clicked]).toEqual([true, 1])
    expect(await links(id)).toMatchObject([
      { people: 1, machines: 1 },
      { people: 0, machines: 1 },
    ])
  })

  it('one of them is followed by a person, who counts a moment later', async () => {
    const { id, urls } = await two([{ does: 'addTag', tag: on.install.ids.tag }])
    await lookAt(urls[1]!)
    expect([await tagged(), (await taken(id))[0]?.undecided]).toEqual([false, true])
    await decide()
    expect([await tagged(), (await taken(id)).length]).toEqual([true, 0])
    expect((await rowOf(id)).clicked).toBe(1)
  })
})
