import { describe, expect, it } from 'vitest'
import { simpleParser } from 'mailparser'
import type { EmailPreview } from '../../contract/emails.ts'
import type { Block } from '../../core/blocks/block.ts'
import type { EmailContent } from '../../core/email/email.ts'
import { plainBrand } from '../../core/pages/brand.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useEmails } from '../../testing/emails.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { renewTemplates } from './emailDrafts.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { who, block, text, section, document, button, write, create, view, save, publish, live, rowOf, send } =
  useEmails(on)

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
    expect(await rowOf(copy.id)).toMatchObject({ name: `Letter ${who.n} (copy)`, state: 'draft' })
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
    const person = await on.add(who.address)
    await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
    const answer = await on.mara.post('/broadcasts', { who: { search: who.address, tree: null }, email: id })
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
    const [mail] = await mailFor(on.install, who.address)
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
    const [mail] = await mailFor(on.install, who.address)
    expect(mail!.html).toBe('')
    expect(mail!.text).toMatch(/^Dear Orla: http\S+\/go\//)
  })

  it('stays as it was sent, while a link that is mended leads on from it', async () => {
    const id = await live()
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
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
    const [without] = await mailFor(on.install, who.address)
    for (const said of [without!.text, without!.html]) {
      expect(said).toContain('Get the templates.')
      expect(said).not.toContain('You have the templates.')
    }
    who.address = `tagged${who.n}@postbox.test`
    const person = await on.add(who.address, { firstName: 'Orla' })
    await on.mara.post(`/people/${person}/tags`, { add: ['Template pack'], remove: [] })
    await send(id)
    const mails = await mailFor(on.install, who.address)
    const mail = mails.find(({ subject }) => subject === 'For Orla')
    expect(mail?.text).toContain('You have the templates.')
    expect(mail?.text).not.toContain('\n\n\n')
    expect(mail?.html).not.toContain('Get the templates.')
    const preview = await on.mara.get<EmailPreview>(`/emails/${id}/preview?person=${person}`)
    expect(preview.text).toContain('You have the templates.')
  })

  it('of a topic goes to who agreed to it, also by a follow-up', async () => {
    const topic = (
      await made<{ id: number }>(on.mara.post('/topics', { name: `News ${who.n}`, description: '' }))
    ).id
    const id = await live(write({ topic }))
    expect((await rowOf(id)).topic).toBe(topic)
    const person = await on.add(who.address, { firstName: 'Orla' })
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
    await on.mara.post('/people/bulk', { who: { search: who.address, tree: null }, does })
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
    const file = (await made<{ id: number }>(on.mara.send(`/files/upload?name=kept-${who.n}.txt`, 'words')))
      .id
    const id = await live(write({}, button({ to: 'file', file })))
    await save(id, write())
    expect((await publish(id)).status).toBe(204)
    const refused = await on.mara.post(`/files/${file}/delete`)
    expect([refused.status, await refused.text()]).toEqual([
      409,
      expect.stringContaining(`mail that was sent of Letter ${who.n}`),
    ])
  })

  it('keeps a link that was taken out, for who has it', async () => {
    const id = await live()
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    await save(id, {
      ...(await view(id)).content,
      document: document(section([{ blocks: [text('No link.')] }])),
    })
    expect((await publish(id)).status).toBe(204)
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/first')
  })

  it('leads to a page of ours by a link that knows its reader, wherever the page moves to', async () => {
    await send(await live(write({}, button({ to: 'page', page: on.install.ids.page }))))
    const [mail] = await mailFor(on.install, who.address)
    const location = (await lookAt(buttonOf(mail!))).headers.get('location')
    expect(location).toMatch(/\/p\/template-pack\?me=/)
  })

  it('is not deleted, so that a journal can say what somebody got', async () => {
    const id = await live()
    await send(id)
    await mailFor(on.install, who.address)
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

describe('trying an email out', () => {
  it('shows it as a person would read it, or somebody of whom nothing is known', async () => {
    const id = await create()
    const orla = await on.add(who.address, { firstName: 'Orla' })
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
