import { beforeEach, describe, expect, it } from 'vitest'
import { simpleParser } from 'mailparser'
import type { EmailLinkView, EmailPreview, EmailRow, EmailView } from '../../contract/emails.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { Block } from '../../core/blocks/block.ts'
import type { Target } from '../../core/blocks/target.ts'
import { downloadUrl } from '../capture/downloads.ts'
import { emailLinks, emptyEmail, linkKey, type EmailContent } from '../../core/email/email.ts'
import { plainBrand } from '../../core/pages/brand.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { computer, lookAt, publish as publishPage } from '../../testing/publishing.ts'
import { callBackFor } from './broadcasts/moments.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { renewTemplates } from './emailDrafts.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { block, text, section, document } = composer(numberedIds('mail'))
const web = (url: string): Target => ({ to: 'web', url })
const button = (to: Target): Block => block('button', { label: 'See the bench', target: to })

const write = (given: Partial<EmailContent> = {}, ...blocks: Block[]): EmailContent =>
  emptyEmail({
    subject: "For {first name or 'you'}",
    preheader: 'A look at the bench.',
    document: document(
      section([
        {
          blocks: [
            text("Hello {first name or 'there'},"),
            ...blocks,
            button(web('https://bench.test/first')),
          ],
        },
      ]),
    ),
    ...given,
  })

let n = 0
let address = ''
beforeEach(() => {
  n += 1
  address = `reader${n}@postbox.test`
})

const create = async (content = write(), name = `Letter ${n}`): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/emails', { name, content }))).id
const view = (id: number) => on.mara.get<EmailView>(`/emails/${id}`)
async function save(id: number, content: EmailContent): Promise<void> {
  const { version, revision } = await view(id)
  const answer = await on.mara.post(`/emails/${id}/save`, { version, revision, content })
  expect(answer.status, await answer.clone().text()).toBe(200)
}
async function publish(id: number): Promise<Response> {
  const { version, revision } = await view(id)
  return on.mara.post(`/emails/${id}/publish`, { version, revision })
}
const live = async (content = write()): Promise<number> => {
  const id = await create(content)
  expect((await publish(id)).status).toBe(204)
  return id
}
const rowOf = async (id: number): Promise<EmailRow> =>
  (await on.mara.get<EmailRow[]>('/emails')).find((each) => each.id === id)!

/** Sends an email to one person, as a broadcast to those of their address. */
async function send(id: number): Promise<void> {
  const known = await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address])
  const person = known?.id ?? (await on.add(address, { firstName: 'Orla' }))
  await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
  await made(on.mara.post('/broadcasts', { who: { search: address, tree: null }, email: id, topic: null }))
  on.install.clock.move(callBackFor)
}

describe('an email', () => {
  it('is drafted, published, gone back to, copied, archived and deleted', async () => {
    const id = await create()
    expect(await view(id)).toMatchObject({ state: 'draft', findings: [], usedIn: [] })
    expect((await publish(id)).status).toBe(204)
    await save(id, { ...(await view(id)).content, subject: 'Another subject' })
    expect(await view(id)).toMatchObject({ state: 'live', changes: ['Changed subject'] })
    expect(await rowOf(id)).toMatchObject({ hasDraft: true, subject: 'Another subject', sent: 0 })
    await on.mara.post(`/emails/${id}/go-back`, { version: 1 })
    expect((await view(id)).content.subject).toBe("For {first name or 'you'}")
    const copy = await made<{ id: number }>(on.mara.post(`/emails/${id}/copy`))
    expect(await rowOf(copy.id)).toMatchObject({ name: `Letter ${n} (copy)`, state: 'draft' })
    await on.mara.post(`/emails/${copy.id}/archive`, { archived: true })
    expect((await rowOf(copy.id)).state).toBe('archived')
    expect((await on.mara.post(`/emails/${copy.id}/delete`)).status).toBe(204)
  })

  it('that somebody else has saved meanwhile is not saved over unless it is meant', async () => {
    const id = await create()
    const { version, revision, content } = await view(id)
    await save(id, { ...content, subject: 'First' })
    const late = { version, revision, content: { ...content, subject: 'Second' } }
    expect((await on.mara.post(`/emails/${id}/save`, late)).status).toBe(409)
    expect((await on.mara.post(`/emails/${id}/save`, { ...late, over: true })).status).toBe(200)
    expect((await view(id)).content.subject).toBe('Second')
  })

  it('with faults is kept, and not published', async () => {
    const id = await create(write({ subject: '' }, block('picture')))
    const { findings } = await view(id)
    expect(findings.filter(({ level }) => level === 'error').map(({ words }) => words)).toEqual([
      'Write a subject',
      'Choose a picture, or remove this one',
    ])
    const refused = await publish(id)
    expect([refused.status, await refused.text()]).toEqual([422, expect.stringContaining('Write a subject')])
  })

  it('in draft is sent to nobody: a broadcast of it is refused', async () => {
    const id = await create()
    const person = await on.add(address)
    await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
    const answer = await on.mara.post('/broadcasts', { who: { search: address, tree: null }, email: id })
    expect([answer.status, await answer.text()]).toEqual([
      409,
      expect.stringContaining('Publish it in the Library'),
    ])
  })

  it.each([
    [{ subject: 'x'.repeat(10_000) }, 'subject'],
    [{ replyTo: 'mara@x.test\r\nBcc: all@x.test' }, 'replyTo'],
    [{ purpose: 'urgent' }, 'purpose'],
    [{ document: { sections: [{}] } }, 'document'],
  ])('is refused with the field that is wrong (%#)', async (given, field) => {
    const answer = await on.mara.post('/emails', { name: 'Wrong', content: { ...write(), ...given } })
    expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining(field)])
  })
})

describe('an email that is sent', () => {
  it('greets its reader, has both parts, and one-click unsubscribe (RFC 8058; read back by mailparser)', async () => {
    await send(await live(write({ why: 'You asked for it.', replyTo: 'answers@quillfeather.example' })))
    const [mail] = await mailFor(on.install, address)
    const parsed = await simpleParser(mail!.raw)
    expect(parsed.subject).toBe('For Orla')
    expect(parsed.replyTo?.text).toBe('answers@quillfeather.example')
    expect(parsed.text).toContain('Hello Orla,')
    expect(parsed.html).toContain('Hello Orla,')
    expect(parsed.html).toContain('You asked for it.')
    expect(mail!.headers['list-unsubscribe-post']).toBe('List-Unsubscribe=One-Click')
  })

  it('goes out as plain text alone where that is wished', async () => {
    await send(await live(write({ textOnly: true, text: "Dear {first name or 'you'}: {link 1}" })))
    const [mail] = await mailFor(on.install, address)
    expect(mail!.html).toBe('')
    expect(mail!.text).toMatch(/^Dear Orla: http\S+\/go\//)
  })

  it('stays as it was sent, while a link that is mended leads on from it', async () => {
    const id = await live()
    await send(id)
    const [mail] = await mailFor(on.install, address)
    const { content } = await view(id)
    const mended = JSON.parse(
      JSON.stringify(content).replace('bench.test/first', 'bench.test/second'),
    ) as EmailContent
    await save(id, { ...mended, subject: 'A later subject' })
    expect((await publish(id)).status).toBe(204)
    const followed = await lookAt(buttonOf(mail!))
    expect(followed.headers.get('location')).toBe('https://bench.test/second')
    const sent = await on.q.row('select email_version from message where email_id = $1', [id])
    expect(sent).toEqual({ email_version: 1 })
    await eventually(async () => (await rowOf(id)).clicked === 1)
  })

  it('has the parts that are for its reader, in both parts; others read what stands in their place', async () => {
    const tag = on.install.ids.tag
    const people = { kind: 'all' as const, of: [{ kind: 'hasTag' as const, tag }] }
    const part: Block = {
      ...text('You have the templates.'),
      shownTo: { people, instead: 'Get the templates.' },
    }
    const id = await live(write({}, part))
    await send(id)
    const [without] = await mailFor(on.install, address)
    for (const said of [without!.text, without!.html]) {
      expect(said).toContain('Get the templates.')
      expect(said).not.toContain('You have the templates.')
    }
    address = `tagged${n}@postbox.test`
    const person = await on.add(address, { firstName: 'Orla' })
    await on.mara.post(`/people/${person}/tags`, { add: ['Template pack'], remove: [] })
    await send(id)
    const mails = await mailFor(on.install, address)
    const mail = mails.find(({ subject }) => subject === 'For Orla')
    expect(mail?.text).toContain('You have the templates.')
    expect(mail?.text).not.toContain('\n\n\n')
    expect(mail?.html).not.toContain('Get the templates.')
    const preview = await on.mara.get<EmailPreview>(`/emails/${id}/preview?person=${person}`)
    expect(preview.text).toContain('You have the templates.')
  })

  it('of a topic goes to who agreed to it, also by a follow-up', async () => {
    const topic = (
      await made<{ id: number }>(on.mara.post('/topics', { name: `News ${n}`, description: '' }))
    ).id
    const id = await live(write({ topic }))
    expect((await rowOf(id)).topic).toBe(topic)
    const person = await on.add(address, { firstName: 'Orla' })
    await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
    const { followup } = on.install.ids
    const before = await on.q.row<{ program: unknown }>('select program from followup where id = $1', [
      followup,
    ])
    const steps = [{ kind: 'send', id: 'news-step', email: id }]
    await on.q.rows(`update followup set program = jsonb_set(program, '{steps}', $2) where id = $1`, [
      followup,
      JSON.stringify(steps),
    ])
    const does = { kind: 'startFollowup', followup }
    await on.mara.post('/people/bulk', { who: { search: address, tree: null }, does })
    const held = await eventually(() =>
      on.q.row<{ problem: string }>(
        `select problem from message where email_id = $1 and contact_id = $2 and state = 'held'`,
        [id, person],
      ),
    )
    expect(held.problem).toContain('did not agree to the topic')
    await on.q.rows('update followup set program = $2 where id = $1', [
      followup,
      JSON.stringify(before?.program),
    ])
  })

  it('is made anew with the brand, without touching links and settings', async () => {
    const id = await live()
    const { content } = await view(id)
    await save(id, { ...content, purpose: 'transactional' })
    await renewTemplates(on.install.platform)
    expect((await rowOf(id)).purpose).toBe('marketing')
    expect((await publish(id)).status).toBe(204)
    const linksNow = () =>
      on.q.rows('select id, target, position, gone from email_link where email_id = $1', [id])
    const before = await linksNow()
    await renewTemplates(on.install.platform)
    expect(await linksNow()).toEqual(before)
    expect((await rowOf(id)).purpose).toBe('transactional')
  })

  it('keeps the file of a link that was taken out: it is not deleted while mail leads to it', async () => {
    const file = (await made<{ id: number }>(on.mara.send(`/files/upload?name=kept-${n}.txt`, 'words'))).id
    const id = await live(write({}, button({ to: 'file', file })))
    await save(id, write())
    expect((await publish(id)).status).toBe(204)
    const refused = await on.mara.post(`/files/${file}/delete`)
    expect([refused.status, await refused.text()]).toEqual([
      409,
      expect.stringContaining(`mail that was sent of Letter ${n}`),
    ])
  })

  it('keeps a link that was taken out, for who has it', async () => {
    const id = await live()
    await send(id)
    const [mail] = await mailFor(on.install, address)
    await save(id, {
      ...(await view(id)).content,
      document: document(section([{ blocks: [text('No link.')] }])),
    })
    expect((await publish(id)).status).toBe(204)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/first')
  })

  it('leads to a page of ours by a link that knows its reader, wherever the page moves to', async () => {
    await send(await live(write({}, button({ to: 'page', page: on.install.ids.page }))))
    const [mail] = await mailFor(on.install, address)
    const location = (await lookAt(buttonOf(mail!))).headers.get('location')
    expect(location).toMatch(/\/p\/template-pack\?me=/)
  })

  it('is not deleted, so that a journal can say what somebody got', async () => {
    const id = await live()
    await send(id)
    await mailFor(on.install, address)
    const answer = await on.mara.post(`/emails/${id}/delete`)
    expect([answer.status, await answer.text()]).toEqual([409, expect.stringContaining('in use')])
    const used = await on.mara.post(`/emails/${on.install.emails.delivery}/delete`)
    expect(await used.text()).toContain('follow-up Template pack')
  })

  it('wears the brand that the business has by then', async () => {
    const id = await live()
    const colours = { ...plainBrand.colours, accent: '#AB12CD' }
    await made(
      on.mara
        .post('/site/brand', { ...plainBrand, colours })
        .then((answer) => Response.json({ ok: answer.ok })),
    )
    await eventually(async () => {
      const row = await on.q.row<{ html: string }>(
        'select html_template html from email_version where email_id = $1 and number = 1',
        [id],
      )
      return row?.html.includes('#AB12CD')
    })
  })
})

describe('a link that does something', () => {
  const doing = (actions: EmailContent['onClick'][string]): EmailContent => {
    const content = write()
    const [link] = emailLinks(content)
    return { ...content, onClick: { [linkKey(link!)]: actions } }
  }
  const tagsOf = async (): Promise<string[]> => {
    const { rows } = await on.find({ search: address })
    return (await on.view(rows[0]!.id)).tags.map(({ name }) => name)
  }
  const idOf = async (): Promise<number> => (await on.find({ search: address })).rows[0]!.id
  const links = (id: number) => on.mara.get<EmailLinkView[]>(`/emails/${id}/links`)

  it('does it once for a person, and the journal says by what', async () => {
    const { tag, followup } = on.install.ids
    const topic = (
      await made<{ id: number }>(on.mara.post('/topics', { name: `Thread ${n}`, description: '' }))
    ).id
    const field = await made<{ id: number }>(
      on.mara.post('/fields', { name: `Level ${n}`, kind: 'text', options: [] }),
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
    const [mail] = await mailFor(on.install, address)
    await Promise.all([lookAt(buttonOf(mail!)), lookAt(buttonOf(mail!))])
    expect(await tagsOf()).toEqual(['Template pack'])
    const { rows } = await on.find({ search: address })
    const person = await on.view(rows[0]!.id)
    expect(person.fields).toMatchObject({ [field.id]: 'keen' })
    expect(person.topics.map((each) => each.id)).toContain(topic)
    const entered = await on.q.rows('select from enrolment where contact_id = $1', [person.id])
    expect(entered).toHaveLength(1)
    expect(JSON.stringify(person.journal)).toContain(`link “See the bench” in “Letter ${n}”`)
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
    const [mail] = await mailFor(on.install, address)
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
    expect(journal).toContain(`clicked the link “See the bench” in “Letter ${n}”`)
    const waits = await on.q.row(
      `select from message where contact_id = $1 and enrolment_id is not null and state = 'queued'`,
      [person],
    )
    expect(waits).toBeUndefined()
  })

  it('does nothing for a machine, which is counted apart', async () => {
    const id = await live(doing([{ does: 'addTag', tag: on.install.ids.tag }]))
    await send(id)
    const [mail] = await mailFor(on.install, address)
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
    const [mail] = await mailFor(on.install, address)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/first')
    for (const action of gone) {
      const refused = await publish(await create(doing([action])))
      expect(await refused.text()).toContain('Choose what a click on “See the bench” does')
    }
  })

  it('counts and does what it does though what it leads to is gone', async () => {
    const page = await publishPage(on, `gone-${n}`, [text('Soon gone.')])
    const content = write({}, button({ to: 'page', page }))
    const [first] = emailLinks(content)
    const { tag } = on.install.ids
    const id = await live({ ...content, onClick: { [linkKey(first!)]: [{ does: 'addTag', tag }] } })
    await send(id)
    const [mail] = await mailFor(on.install, address)
    expect((await on.mara.post(`/pages/${page}/delete`)).status).toBe(204)
    expect((await lookAt(buttonOf(mail!))).status).toBe(404)
    expect(await tagsOf()).toEqual(['Template pack'])
    expect((await links(id))[0]).toMatchObject({ people: 1 })
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

describe('trying an email out', () => {
  it('shows it as a person would read it, or somebody of whom nothing is known', async () => {
    const id = await create()
    const orla = await on.add(address, { firstName: 'Orla' })
    expect(await on.mara.get<EmailPreview>(`/emails/${id}/preview?person=${orla}`)).toMatchObject({
      subject: 'For Orla',
      text: expect.stringContaining('Hello Orla,') as string,
    })
    expect((await on.mara.get<EmailPreview>(`/emails/${id}/preview`)).subject).toBe('For you')
    const shown = await on.mara.download(`/emails/${id}/preview-html?person=${orla}&pictures=off`)
    expect(await shown.text()).toContain('Hello Orla,')
    expect(shown.headers.get('content-security-policy')).toContain("img-src 'none'")
    await expect(on.mara.get(`/emails/${id}/preview?person=999999`)).rejects.toThrow(/404/)
  })

  it('sends the draft to the team, marked as a test; its links work, and nothing is counted', async () => {
    const id = await live()
    await save(id, { ...(await view(id)).content, subject: "Draft for {first name or 'you'}" })
    const [me] = await on.mara.get<{ id: number; address: string; isMe: boolean }[]>('/emails/team')
    expect(me).toMatchObject({ isMe: true })
    const before = await on.q.row('select count(*) from activity')
    const answer = await on.mara.post(`/emails/${id}/test`, { accounts: [me!.id] })
    expect(answer.status).toBe(204)
    const mails = await eventually(() => {
      const found = on.install.mail.standins!.mailbox.list({ to: me!.address })
      return found.length > 0 && found
    })
    expect(mails.at(-1)!.subject).toBe('[Test] Draft for you')
    expect(mails.at(-1)!.text).toContain('https://bench.test/first')
    const notice = /Unsubscribe: (\S+)/.exec(mails.at(-1)!.text)![1]!
    expect(await (await fetch(notice)).text()).toContain('This email is a test')
    expect(await rowOf(id)).toMatchObject({ sent: 0, opened: 0, clicked: 0 })
    expect(await on.q.row('select count(*) from activity')).toEqual(before)
  })

  it('is refused for who is not of the team', async () => {
    const id = await create()
    expect((await on.mara.post(`/emails/${id}/test`, { accounts: [999] })).status).toBe(422)
    expect((await on.mara.post(`/emails/${id}/test`, { accounts: [] })).status).toBe(422)
  })

  it('draws the sheet of what is not saved yet', async () => {
    const drawn = await made<{ style: string; body: string }>(
      on.mara.post('/emails/draw', { content: write({}, block('heading', { words: 'Not saved' })) }),
    )
    expect(drawn.body).toMatch(/data-edit="words"[^>]*>Not saved/)
    expect(drawn.body).not.toMatch(/ style=/)
  })
})
