import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import type { EnrolmentView } from '../../contract/followups.ts'
import type { TodayView } from '../../contract/today.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { buttonOf, mailFor, postForm } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'
import { startFollowups } from './starting.ts'

const day = 86_400_000

let install: TestInstall
let mara: Marketer
beforeAll(async () => {
  install = await openInstall()
  await install.startWorker()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

async function idOf(address: string): Promise<number> {
  const found = await install.platform.database.row<{ id: number }>(
    'select id from contact where address_key = $1',
    [address],
  )
  return found!.id
}

describe('the email with the file', () => {
  it('comes at once with everything that a mailbox wants to see', async () => {
    await postForm(install.url, { address: 'orla@postbox.test', firstName: 'Orla' })
    const [mail] = await mailFor(install, 'orla@postbox.test')
    expect(mail?.subject).toBe('Your Five-Hole Pamphlet templates')
    expect(mail?.text).toContain('Hello Orla,')
    expect(mail?.html).toContain('Hello Orla,')
    expect(mail?.html).toContain('4 Sizing Lane')
    // RFC 8058 §3.1: both headers, an https or http address, and exactly this value.
    expect(mail?.headers['list-unsubscribe']).toMatch(/^<http:\/\/127\.0\.0\.1:\d+\/unsubscribe\/[\w.-]+>$/)
    expect(mail?.headers['list-unsubscribe-post']).toBe('List-Unsubscribe=One-Click')
    expect(mail?.headers['message-id']).toMatch(/^<[\w-]{22}@quillfeather\.example>$/)
    expect(mail?.headers['content-type']).toContain('multipart/alternative')
    // RFC 5322 §2.1.1: no line longer than 998 characters.
    expect(Math.max(...mail!.raw.split('\r\n').map((line) => line.length))).toBeLessThanOrEqual(998)
  })

  it('leads by its button to the file, and both are written down', async () => {
    const [mail] = await mailFor(install, 'orla@postbox.test')
    const click = await lookAt(buttonOf(mail!))
    expect(click.status).toBe(302)
    const file = await lookAt(click.headers.get('location')!)
    expect(await file.text()).toMatch(/^%PDF-1\./)
    expect(file.headers.get('content-disposition')).toContain(
      'attachment; filename="Five-Hole Pamphlet templates.pdf"',
    )
    expect(file.headers.get('x-robots-tag')).toBe('noindex')

    const { journal } = await mara.get<PersonView>(`/people/${await idOf('orla@postbox.test')}`)
    const titles = journal.map(({ title }) => title)
    expect(titles).toContain('clicked “Download the template pack” in “Your template pack”')
    expect(titles).toContain('downloaded “Five-Hole Pamphlet templates.pdf”')
  })

  it('leads nowhere else: a changed link is no link', async () => {
    const [mail] = await mailFor(install, 'orla@postbox.test')
    const link = buttonOf(mail!)
    const forged = link.replace(/\/go\/[^.]+/, `/go/${Buffer.from('1\n2').toString('base64url')}`)
    for (const wrong of [
      forged,
      `${link}x`,
      link.replace('/go/', '/files/'),
      link.replace('/go/', '/unsubscribe/'),
    ])
      expect((await fetch(wrong, { redirect: 'manual' })).status).toBe(404)
  })
})

describe('two days later', () => {
  it('invites who clicked and reminds who did not, and the journal says why', async () => {
    await postForm(install.url, { address: 'idle@postbox.test', firstName: 'Idris' })
    await mailFor(install, 'idle@postbox.test')
    install.clock.move(2 * day - 60_000)
    await new Promise((done) => setTimeout(done, 1_500))
    expect(await mailFor(install, 'idle@postbox.test')).toHaveLength(1)

    install.clock.move(60_000)
    const clicked = await mailFor(install, 'orla@postbox.test', 2)
    const idle = await mailFor(install, 'idle@postbox.test', 2)
    expect(clicked[1]?.subject).toBe('Orla, bring your pamphlet on Sunday')
    expect(idle[1]?.subject).toBe('Still on the bench: your pamphlet templates')

    const person = await mara.get<PersonView>(`/people/${await idOf('idle@postbox.test')}`)
    const decision = person.journal.find(({ reason }) => reason.startsWith('Not yet'))
    expect(decision?.reason).toMatch(
      /^Not yet: clicked in “Your template pack”: no \(looked from 24 Nov 10:00 until 26 Nov 10:00\)$/,
    )
    const orla = await mara.get<PersonView>(`/people/${await idOf('orla@postbox.test')}`)
    expect(orla.tags.map(({ name }) => name)).toEqual(['Template pack', 'Invited to Stitch-Along'])
  })

  it('does not write to who has unsubscribed by one click meanwhile', async () => {
    await postForm(install.url, { address: 'quiet@postbox.test' })
    const [mail] = await mailFor(install, 'quiet@postbox.test')
    const address = /<(.+)>/.exec(mail!.headers['list-unsubscribe'] ?? '')![1]!
    // RFC 8058 §3.2: a POST with this body, without cookies, and no question asked.
    const answer = await fetch(address, {
      method: 'POST',
      body: new URLSearchParams('List-Unsubscribe=One-Click'),
    })
    expect(answer.status).toBe(200)

    install.clock.move(2 * day)
    const id = await idOf('quiet@postbox.test')
    const skipped = await eventually(async () => {
      const { journal } = await mara.get<PersonView>(`/people/${id}`)
      return journal.find(({ title }) => title === 'Template pack: did not send')
    })
    expect(skipped.reason).toBe('“Did you find it?”: the person is unsubscribed')
    expect(await mailFor(install, 'quiet@postbox.test')).toHaveLength(1)
  })

  it('changes nothing when the unsubscribe link is only opened', async () => {
    await postForm(install.url, { address: 'scanner@postbox.test' })
    const [mail] = await mailFor(install, 'scanner@postbox.test')
    const address = /<(.+)>/.exec(mail!.headers['list-unsubscribe'] ?? '')![1]!
    const page = await (await fetch(address)).text()
    expect(page).toContain('Stop all email to scanner@postbox.test?')
    const person = await mara.get<PersonView>(`/people/${await idOf('scanner@postbox.test')}`)
    expect(person.marketingState).toBe('subscribed')
  })
})

describe('coming in', () => {
  it('happens once, however often the form is sent or the job runs', async () => {
    await postForm(install.url, { address: 'again@postbox.test' })
    await mailFor(install, 'again@postbox.test')
    await postForm(install.url, { address: 'again@postbox.test' })
    const contact = await idOf('again@postbox.test')
    const job = {
      contact,
      activity: 1_000_000,
      kind: 'formSent',
      details: { form: install.ids.form },
      at: install.clock.now(),
    }
    await Promise.all([startFollowups(install.platform, job), startFollowups(install.platform, job)])
    expect(await mara.get<EnrolmentView[]>(`/people/${contact}/enrolments`)).toHaveLength(1)
    // What was asked for comes once at first, and once more for the job's own form, however often that job runs.
    const messages = await install.platform.database.rows('select from message where contact_id = $1', [
      contact,
    ])
    expect(messages).toHaveLength(2)
    expect(await mailFor(install, 'again@postbox.test', 2)).toHaveLength(2)
  })
})

describe('a rehearsal', () => {
  it('jumps over the wait on the person’s own clock, and is counted nowhere', async () => {
    await postForm(install.url, { address: 'ada@rehearsal.example', firstName: 'Ada' })
    await mailFor(install, 'ada@rehearsal.example')
    const id = await idOf('ada@rehearsal.example')
    const before = await mara.get<TodayView>('/today')
    expect((await mara.post(`/people/${id}/jump`)).status).toBe(409)
    expect((await mara.post(`/people/${id}/rehearsal`, { on: true })).status).toBe(204)
    const after = await mara.get<TodayView>('/today')
    expect(after.arrivedToday).toBe(before.arrivedToday - 1)
    expect(after.arrivals.map(({ address }) => address)).not.toContain('ada@rehearsal.example')
    expect(after.departures.reduce((sum, row) => sum + row.people, 0)).toBeLessThan(
      before.departures.reduce((sum, row) => sum + row.people, 0),
    )

    const jumped = (await (await mara.post(`/people/${id}/jump`)).json()) as { now: string; moved: number }
    expect(jumped.moved).toBe(1)
    expect(Date.parse(jumped.now)).toBe(install.clock.now() + 2 * day)
    const mails = await mailFor(install, 'ada@rehearsal.example', 2)
    expect(mails[1]?.subject).toBe('Still on the bench: your pamphlet templates')
    // The Date header shows Ada's clock: RFC 5322 §3.6.1.
    expect(Date.parse(mails[1]!.headers.date!)).toBe(install.clock.now() + 2 * day)

    const count = (who: object) => made<{ people: number }>(mara.post('/people/count', who))
    expect(await count({ search: 'rehearsal.example' })).toEqual({ people: 0 })
    expect(await count({ rehearsal: 'only' })).toEqual({ people: 1 })
  })

  it('says what to do when nothing is due or the clock has run ahead', async () => {
    const id = await idOf('ada@rehearsal.example')
    // Two more days, not clicked: the end of the lane.
    expect((await mara.post(`/people/${id}/jump`)).status).toBe(200)
    const nothing = await mara.post(`/people/${id}/jump`)
    expect(nothing.status).toBe(409)
    expect(await nothing.json()).toMatchObject({ title: 'Nothing is due' })
    expect((await mara.post(`/people/${id}/rehearsal`, { on: false })).status).toBe(409)
  })
})
