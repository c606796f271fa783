import { beforeEach, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import { endConfirmations } from '../../server/capture/waiting.ts'
import type { MarketingState } from '../../core/audience/people/permission.ts'
import { mailFor, postForm, tokenOf } from '../../testing/visitor.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const hour = 3_600_000
const day = 24 * hour

let number = 0
let address = ''
beforeEach(() => {
  number += 1
  address = `person${number}@postbox.test`
})

const send = (fields: Record<string, string | undefined> = {}) =>
  postForm(on.install.url, { address, ...fields })

async function find(): Promise<PersonView | null> {
  const found = await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address])
  return found ? on.view(found.id) : null
}

/** Somebody on the list, with a name and in a state, about whom nothing else has happened. */
async function known(state: MarketingState, firstName = 'Ada'): Promise<number> {
  const id = await on.add(address, { firstName })
  await on.q.rows('update contact set marketing_state = $2 where id = $1', [id, state])
  return id
}

const mailNow = () => on.install.mail.standins!.mailbox.list({ to: address })
const jobsDone = () =>
  eventually(async () => {
    const left = await on.q.row<{ count: number }>(
      `select count(*) count from graphile_worker.jobs where task_identifier <> 'countSegments' and run_at <= now()`,
    )
    return left?.count === 0
  })

const linkOf = (text: string): string => /https?:\S+\/confirm\/\S+/.exec(text)![0]

/** Sends the form, and gives the link of the email that asks whether it was theirs. */
async function askedBy(fields: Record<string, string> = {}): Promise<string> {
  const before = mailNow().length
  expect((await send(fields)).status).toBe(303)
  const mails = await mailFor(on.install, address, before + 1)
  return linkOf(mails.at(-1)!.text)
}

const press = (link: string) => fetch(link, { method: 'POST', redirect: 'manual' })

describe('a stranger who types the address of somebody subscribed', () => {
  it('renames nobody: what is known stays, what is blank is filled in', async () => {
    await send({ firstName: 'Ada', utm_source: 'fair' })
    await send({ firstName: 'Mallory', utm_source: 'elsewhere' })
    expect(await find()).toMatchObject({ firstName: 'Ada', source: { utm_source: 'fair' } })
    address = `blank${number}@postbox.test`
    await send({ firstName: '' })
    on.install.clock.move(hour + 1)
    await send({ firstName: 'Bea' })
    expect(await find()).toMatchObject({ firstName: 'Bea' })
  })

  it('has what was asked for sent to the address, at most once an hour for one form', async () => {
    await send()
    await mailFor(on.install, address)
    for (let i = 0; i < 5; i += 1) expect((await send()).status).toBe(303)
    await jobsDone()
    expect(mailNow()).toHaveLength(1)
    on.install.clock.move(hour + 1)
    await send()
    const mails = await mailFor(on.install, address, 2)
    expect(mails.map(({ subject }) => subject)).toEqual([
      'Your Five-Hole Pamphlet templates',
      'Your Five-Hole Pamphlet templates',
    ])
    const { journal } = (await find())!
    expect(journal.map(({ reason }) => reason)).toContain(
      '“Your template pack”: asked for once more by the form',
    )
    expect(journal.filter(({ title }) => title.startsWith('submitted the form'))).toHaveLength(2)
  })
})

describe('a stranger who types the address of somebody who may not be written to', () => {
  it.each(['unsubscribed', 'complained', 'neverAsked'] as const)(
    'who is %s: one email asks, and nothing else happens or changes',
    async (state) => {
      const id = await known(state)
      await askedBy({ firstName: 'Mallory' })
      await jobsDone()
      const after = await on.view(id)
      expect(after).toMatchObject({ firstName: 'Ada', marketingState: 'waiting', consents: [], tags: [] })
      expect(after.journal[0]?.title).toMatch(/^was asked by email to confirm/)
      const [mail, ...more] = mailNow()
      expect(more).toEqual([])
      expect(mail?.subject).toBe('Please confirm your address')
      // Nobody writes to somebody else through us.
      expect(mail?.text).not.toContain('Mallory')
    },
  )

  it('who was erased: nothing is known of them again but the address that is asked', async () => {
    const id = await known('subscribed')
    await on.mara.post(`/people/${id}/erase`)
    await askedBy()
    await jobsDone()
    expect(await find()).toMatchObject({ firstName: '', marketingState: 'waiting', consents: [] })
    expect(mailNow()).toHaveLength(1)
  })

  it('who bounced: nothing goes to an address that is known not to exist', async () => {
    const id = await known('bounced')
    expect((await send()).status).toBe(303)
    await jobsDone()
    expect((await on.view(id)).marketingState).toBe('bounced')
    expect(mailNow()).toEqual([])
  })

  it('cannot fill their mailbox: once an hour for one form, three times a day in all', async () => {
    await known('unsubscribed')
    for (let i = 0; i < 4; i += 1) await send()
    await mailFor(on.install, address)
    for (let i = 0; i < 6; i += 1) {
      on.install.clock.move(hour + 1)
      await send()
    }
    await jobsDone()
    expect(mailNow()).toHaveLength(3)
  })

  it('is answered as anybody else is', async () => {
    const told = async (): Promise<unknown[]> => {
      const answer = await send()
      return [answer.status, answer.headers.get('location'), await answer.text()]
    }
    const asNew = await told()
    for (const state of ['subscribed', 'unsubscribed', 'complained', 'bounced'] as const) {
      address = `${state}${number}@postbox.test`
      await known(state)
      expect(await told(), state).toEqual(asNew)
      expect(await told(), `${state} again`).toEqual(asNew)
    }
  })
})

describe('their own click', () => {
  it('makes it true: consent, tag, follow-up and the file, once however often it is pressed', async () => {
    const id = await known('unsubscribed', '')
    const link = await askedBy({ firstName: 'Orla' })
    const page = await (await fetch(link)).text()
    expect(page).toContain('Is this your email address?')
    expect(page).toContain('now and then, news about bookbinding')
    // Mail programs and scanners open links by themselves: that changes nothing.
    expect((await on.view(id)).marketingState).toBe('waiting')

    for (let i = 0; i < 3; i += 1) {
      const answer = await press(link)
      expect([answer.status, answer.headers.get('location')]).toEqual([303, '/p/template-pack/thanks'])
    }
    const mails = await mailFor(on.install, address, 2)
    await jobsDone()
    expect(mails.at(-1)?.subject).toBe('Your Five-Hole Pamphlet templates')
    expect(mailNow()).toHaveLength(2)
    const after = await on.view(id)
    expect(after).toMatchObject({ marketingState: 'subscribed', firstName: 'Orla' })
    expect(after.tags.map(({ name }) => name)).toEqual(['Template pack'])
    expect(after.consents).toHaveLength(1)
  })

  it('lets an erased person be known again, and imports may name them', async () => {
    await on.q.rows('delete from suppression')
    const erased = await known('subscribed')
    await on.mara.post(`/people/${erased}/erase`)
    await press(await askedBy())
    expect(await find()).toMatchObject({ marketingState: 'subscribed', firstName: 'Orla' })
    expect(await on.q.rows('select from suppression')).toEqual([])
  })

  it('counts for who was merged meanwhile too', async () => {
    const gone = await known('unsubscribed')
    const link = await askedBy()
    const kept = await on.add(`other${number}@postbox.test`)
    await on.mara.post(`/people/${kept}/merge`, { other: gone })
    expect((await on.view(kept)).marketingState).toBe('unsubscribed')
    await press(link)
    expect((await on.view(kept)).marketingState).toBe('subscribed')
  })

  it('counts no more after a week: then they are what they were', async () => {
    const id = await known('complained')
    const link = await askedBy()
    address = `forgotten${number}@postbox.test`
    const erased = await known('subscribed')
    await on.mara.post(`/people/${erased}/erase`)
    await askedBy()
    on.install.clock.move(7 * day + 1)
    expect((await fetch(link)).status).toBe(410)
    expect((await press(link)).status).toBe(410)
    await endConfirmations(on.install.platform)
    expect((await on.view(id)).marketingState).toBe('complained')
    expect(await find()).toBeNull()
  })

  it('is needed by its own link: another, changed or made-up one does nothing', async () => {
    await known('unsubscribed')
    const link = await askedBy()
    for (const wrong of [`${link}x`, link.replace('/confirm/', '/unsubscribe/'), link.slice(0, -3)])
      expect((await press(wrong)).status, wrong).toBe(404)
  })
})

describe('a form’s token', () => {
  const people = async (): Promise<number> =>
    (await on.q.row<{ count: number }>('select count(*) count from contact'))!.count

  it('that was used, is stale or is none meets nobody and makes nobody', async () => {
    const token = await tokenOf(on.install.url)
    await send({ token })
    const before = await people()
    address = `corrected${number}@postbox.test`
    expect((await send({ token, firstName: 'Mallory' })).status).toBe(409)
    const stale = await tokenOf(on.install.url)
    on.install.clock.move(25 * hour)
    expect((await send({ token: stale })).status).toBe(409)
    expect((await send({ token: 'made.up' })).status).toBe(409)
    expect(await people()).toBe(before)
  })

  it('lets who goes back and corrects the address send it again, as a new sending', async () => {
    const token = await tokenOf(on.install.url)
    await send({ token })
    address = `right${number}@postbox.test`
    const again = await send({ token, firstName: 'Orla' })
    const page = await again.text()
    expect(page).toContain('This form has already been sent')
    expect(page).toContain(`value="${address}"`)
    const fresh = /name="token" value="([^"]+)"/.exec(page)![1]!
    expect((await send({ token: fresh })).status).toBe(303)
    expect((await mailFor(on.install, address))[0]?.subject).toBe('Your Five-Hole Pamphlet templates')
  })

  it('stays used up when the person was erased', async () => {
    const token = await tokenOf(on.install.url)
    await send({ token })
    const { id } = (await find())!
    await on.mara.post(`/people/${id}/erase`)
    expect((await send({ token })).status).toBe(303)
    expect(await find()).toBeNull()
  })
})

describe('a name', () => {
  it.each(['Win at evil.test', 'https://evil.test', 'me@evil.test', 'x'.repeat(81), 'a\u0000b'])(
    'that is none (%j) is said, and no email carries it',
    async (firstName) => {
      const answer = await send({ firstName })
      expect(answer.status).toBe(422)
      expect(await answer.text()).toMatch(/Please (write|shorten) /)
      expect(await find()).toBeNull()
    },
  )
})
