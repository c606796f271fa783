import { beforeAll, describe, expect, it } from 'vitest'
import { parse } from 'csv-parse/sync'
import type { OutboxGroup, OutboxList, OutboxMoment } from '../../contract/email.ts'
import type { EmailPreview, EmailReport, EmailView } from '../../contract/emails.ts'
import { emptyEmail, type EmailContent } from '../../core/email/email.ts'
import { useEmails } from '../../testing/emails.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { sendDue } from '../../testing/sending.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'

const on = useInstall({ worker: false })
const { document, live, write } = useEmails(on)
const hour = 3_600_000

/** A published email with one button. */
const publish = (given: Partial<EmailContent> = {}): Promise<number> =>
  live(write({ subject: 'Two links', ...given }))

async function queue(email: number, ...names: string[]): Promise<void> {
  for (const name of names) {
    const address = `${name}@${name.startsWith('x') ? 'elsewhere.test' : 'postbox.test'}`
    const contact = await on.add(address, { firstName: name, consent: 'at the fair' })
    await on.q.rows(
      `insert into message (email_id, contact_id, purpose, queued_at) values ($1, $2, 'marketing', now())`,
      [email, contact],
    )
  }
}

describe('the report of an email', () => {
  let email: number
  beforeAll(async () => {
    email = await publish()
    await queue(email, 'ann', 'bea', 'cem', 'xen', 'no-such-person')
    await sendDue(on.install)
    const [mail] = await mailFor(on.install, 'ann@postbox.test')
    on.install.clock.move(3 * hour)
    await lookAt(buttonOf(mail!), { 'user-agent': 'Mozilla/5.0 (iPhone; CPU iPhone OS 19_0) Mobile/15E148' })
    const [scanned] = await mailFor(on.install, 'bea@postbox.test')
    await lookAt(buttonOf(scanned!), { 'user-agent': 'scannerbot/1.0' })
    const seen = /https?:[^"]+\/seen\/[^"]+/.exec(scanned!.html)![0]
    await lookAt(seen, { 'user-agent': 'scannerbot/1.0' })
  })
  const report = () => on.mara.get<EmailReport>(`/emails/${email}/report`)

  it('counts people, and machines apart', async () => {
    expect(await report()).toMatchObject({
      sent: 4,
      failed: 1,
      held: 0,
      opened: 1,
      machineOpened: 1,
      clicked: 1,
      unsubscribed: 0,
      links: [{ label: 'See the bench', people: 1, machines: 1 }],
      byDevice: [{ device: 'phone', opened: 1, clicked: 1 }],
    })
  })

  it('says by when, and in which domains', async () => {
    const { byHour, byDomain } = await report()
    expect(byHour.find(({ hours }) => hours === 2)).toMatchObject({ opened: 0, clicked: 0 })
    expect(byHour.find(({ hours }) => hours === 4)).toMatchObject({ opened: 1, clicked: 1 })
    expect(byDomain).toEqual([
      { domain: 'postbox.test', sent: 3, opened: 1, clicked: 1, failed: 1 },
      { domain: 'elsewhere.test', sent: 1, opened: 0, clicked: 0, failed: 0 },
    ])
  })

  it('counts nobody in rehearsal', async () => {
    await on.q.rows(`update contact set rehearsal = true where first_name = 'ann'`)
    expect(await report()).toMatchObject({ sent: 3, opened: 0, clicked: 0 })
    await on.q.rows(`update contact set rehearsal = false where first_name = 'ann'`)
  })

  it('has a row for each as CSV (read back by csv-parse)', async () => {
    const answer = await on.mara.download(`/emails/${email}/report.csv`)
    const rows = parse<Record<string, string>>(await answer.text(), { columns: true, bom: true })
    expect(rows.map(({ Email, State }) => [Email, State])).toContainEqual(['ann@postbox.test', 'sent'])
    expect(rows.find(({ Email }) => Email === 'no-such-person@postbox.test')?.Problem).toContain('5.1.1')
    expect(rows).toHaveLength(5)
  })

  it('draws the clicks over the email, by a policy that lets no script in', async () => {
    const answer = await on.mara.download(`/emails/${email}/report-html`)
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'")
    expect(await answer.text()).toMatch(/<span class="clicks">1 · 25\.0 %<\/span>/)
  })

  it('is there for no email that is none', async () => {
    expect((await on.mara.download('/emails/999/report')).status).toBe(404)
  })
})

describe('what is read before it is sent', () => {
  it('is what people get, not what is being written, and its clicks are drawn over that', async () => {
    const email = await publish()
    const { content, version, revision } = await on.mara.get<EmailView>(`/emails/${email}`)
    const draft = { ...content, subject: 'Not out yet', document: document() }
    const saved = await on.mara.post(`/emails/${email}/save`, { version, revision, content: draft })
    expect(saved.status).toBe(200)
    const subjectOf = async (of: string) =>
      (await on.mara.get<EmailPreview>(`/emails/${email}/preview?of=${of}`)).subject
    expect(await subjectOf('draft')).toBe('Not out yet')
    expect(await subjectOf('published')).toBe('Two links')
    const shown = await (await on.mara.download(`/emails/${email}/preview-html?of=published`)).text()
    expect(shown).toContain('https://bench.test/first')
    // Its link leads where it leads, though the draft has none any more.
    const drawn = await (await on.mara.download(`/emails/${email}/report-html`)).text()
    expect(drawn).toContain('href="https://bench.test/first"')
    const never = await made<{ id: number }>(
      on.mara.post('/emails', { name: 'Never out', content: emptyEmail({ document: document() }) }),
    )
    expect((await on.mara.download(`/emails/${never.id}/preview?of=published`)).status).toBe(404)
    expect((await on.mara.download(`/emails/${never.id}/report-html`)).status).toBe(404)
  })
})

describe('an email that is not to be counted', () => {
  it('has no picture to be seen by, and its links lead on and do what they do without a count', async () => {
    const email = await publish({ tracked: false })
    await queue(email, 'dag')
    await sendDue(on.install)
    const [mail] = await mailFor(on.install, 'dag@postbox.test')
    expect(mail!.html).not.toContain('/seen/')
    expect((await lookAt(buttonOf(mail!))).headers.get('location')).toBe('https://bench.test/first')
    expect(await on.mara.get(`/emails/${email}/report`)).toMatchObject({
      tracked: false,
      sent: 1,
      opened: 0,
      clicked: 0,
    })
  })
})

describe('what did not go out', () => {
  const find = async (name: string, show: string) =>
    (await on.mara.get<OutboxList>(`/outbox?show=${show}&search=${name}`)).rows[0]
  const problems = () => on.mara.get<OutboxGroup[]>('/outbox/problems')

  it('is told by its cause, with what to do, and sent again together once that is mended', async () => {
    const email = await publish()
    await queue(email, 'eve', 'fay')
    await on.q.rows(
      `update message set state = 'failed', problem = 'The mail server does not answer' where email_id = $1`,
      [email],
    )
    const cause = { title: 'The mail server did not take it', again: true, people: 2 }
    expect(await problems()).toContainEqual(expect.objectContaining(cause))
    expect(await problems()).toContainEqual(
      expect.objectContaining({ title: 'The address does not exist', people: 1 }),
    )
    const answer = await made<{ people: number }>(on.mara.post('/outbox/again', { title: cause.title }))
    expect(answer.people).toBe(2)
    await sendDue(on.install)
    expect(await mailFor(on.install, 'eve@postbox.test')).toHaveLength(1)
  })

  it('is sent again one by one; what has gone is not', async () => {
    const row = (await find('no-such-person', 'problems'))!
    expect((await on.mara.post(`/outbox/${row.id}/again`)).status).toBe(204)
    await sendDue(on.install)
    // Who bounced is kept from it now.
    expect((await find('no-such-person', 'problems'))?.state).toBe('held')
    const gone = (await find('eve', 'sent'))!
    expect((await on.mara.post(`/outbox/${gone.id}/again`)).status).toBe(409)
    expect((await on.mara.post('/outbox/999999/again')).status).toBe(404)
  })
})

describe('what waits', () => {
  it('is told by its moment, sent at once or cancelled, and the journal says by whom', async () => {
    const email = await publish()
    await queue(email, 'gil', 'hal')
    const at = new Date(on.install.clock.now() + 5 * hour)
    await on.q.rows('update message set due_at = $2 where email_id = $1', [email, at])
    expect(await on.mara.get<OutboxMoment[]>('/outbox/queue')).toContainEqual(
      expect.objectContaining({
        people: 2,
        from: 'form',
        at: expect.stringContaining(at.toISOString().slice(0, 16)) as string,
      }),
    )
    const rows = (await on.mara.get<OutboxList>('/outbox?show=queue')).rows
    const [gil, hal] = ['gil', 'hal'].map((name) => rows.find(({ contact }) => contact.name === name)!)
    expect((await on.mara.post(`/outbox/${gil!.id}/hurry`)).status).toBe(204)
    expect((await on.mara.post(`/outbox/${hal!.id}/cancel`)).status).toBe(204)
    await sendDue(on.install)
    expect(await mailFor(on.install, 'gil@postbox.test')).toHaveLength(1)
    const held = (await on.view(hal!.contact.id)).journal.find(({ title }) =>
      title.startsWith('was left out of'),
    )
    expect(held?.reason).toBe('Mara Ellery cancelled it')
    for (const does of ['hurry', 'cancel'])
      expect((await on.mara.post(`/outbox/${gil!.id}/${does}`)).status).toBe(409)
  })
})
