import { beforeAll, describe, expect, it } from 'vitest'
import type { CourseView } from '../../contract/courses.ts'
import { composer } from '../../core/blocks/compose.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { computer, lookAt, publish } from '../../testing/publishing.ts'
import { useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
const { block } = composer(numberedIds('area'))
const hour = 3_600_000

const ask = (address: string, to = ''): Promise<Response> =>
  fetch(`${on.install.url}/mine`, {
    method: 'POST',
    headers: { 'user-agent': computer },
    body: new URLSearchParams({ address, to }),
  })
const linkIn = async (address: string, count = 1): Promise<string> => {
  const mails = await eventually(async () => {
    const ways = (await mailFor(on.install, address)).filter(({ subject }) =>
      subject.startsWith('Your way in'),
    )
    return ways.length >= count && ways
  })
  return /\/mine\/in\/\S+/.exec(mails[count - 1]?.text ?? '')?.[0] ?? ''
}
/** Follows the way in. @returns the cookie that the browser keeps, and where it leads */
async function goIn(link: string): Promise<{ cookie: string; to: string; status: number }> {
  const answer = await lookAt(`${on.install.url}${link}`)
  return {
    status: answer.status,
    cookie: (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '',
    to: answer.headers.get('location') ?? '',
  }
}
const area = async (cookie: string): Promise<string> =>
  (await lookAt(`${on.install.url}/mine`, { cookie })).text()
const lesson = (path: string, contact: number | null): Promise<Response> =>
  lookAt(
    `${on.install.url}/p/${path}${contact === null ? '' : `?me=${readerMark(on.install.platform, contact)}`}`,
  )

describe('a course', () => {
  let course = 0
  let product = 0
  let buyer = 0
  const pages: number[] = []
  beforeAll(async () => {
    const content = { name: 'Journal', description: 'Six lessons.', access: { for: 'buyers' } }
    course = (await made<{ id: number }>(on.mara.post('/courses', content))).id
    for (const n of [1, 2])
      pages.push(
        await publish(
          on,
          `lesson-${n}`,
          [block('heading', { level: 1, words: `Lesson ${n}` })],
          n === 1 ? {} : { opens: { when: 'previousSeen' } },
          course,
        ),
      )
    product = await shop.sell('Journal course', {
      brings: [{ does: 'openCourse', course }],
      bringsNothing: false,
    })
    await shop.orderPage('journal-order', [product])
    await on.mara.post(`/courses/${course}/save`, { ...content, others: { to: 'product', product } })
    await shop.buy('journal-order', 'buyer@postbox.test')
    await shop.orderOf('buyer@postbox.test')
    buyer =
      (await on.q.row<{ id: number }>(`select id from contact where address_key = 'buyer@postbox.test'`))
        ?.id ?? 0
  })

  it('shows its lessons to buyers, and the offer to everybody else', async () => {
    const other = await on.add('other@postbox.test')
    for (const who of [null, other]) {
      const answer = await lesson('lesson-1', who)
      expect([answer.status, answer.headers.get('location')?.split('?')[0]]).toEqual([
        302,
        '/p/journal-order',
      ])
    }
    const seen = await lesson('lesson-1', buyer)
    expect([seen.status, (await seen.text()).includes('Lesson 1')]).toEqual([200, true])
  })

  it('tells of who has finished it, once', async () => {
    const finished = (): Promise<unknown[]> =>
      on.q.rows(`select from activity where kind = 'courseFinished' and contact_id = $1`, [buyer])
    expect(await finished()).toHaveLength(0)
    for (let n = 0; n < 2; n += 1) expect((await lesson('lesson-2', buyer)).status).toBe(200)
    expect(await finished()).toHaveLength(1)
    const [view] = (await on.mara.get<CourseView[]>('/courses')).filter(({ id }) => id === course)
    expect(view).toMatchObject({ began: 1, finished: 1, bought: 1 })
    expect(view?.lessons.map(({ seen }) => seen)).toEqual([1, 1])
  })

  it('is taken back with a refund that takes back what was brought', async () => {
    await shop.buy('journal-order', 'sends-back@postbox.test')
    const order = await shop.orderOf('sends-back@postbox.test')
    const id =
      (await on.q.row<{ id: number }>(`select id from contact where address_key = 'sends-back@postbox.test'`))
        ?.id ?? 0
    expect((await lesson('lesson-1', id)).status).toBe(200)
    await on.mara.post(`/orders/${order.id}/refund`, { amount: 700, takesBack: true })
    await eventually(async () => (await lesson('lesson-1', id)).status === 302)
  })

  it('for subscribers asks for the topic, and leads others to their way in by email', async () => {
    const topic = await on.q.row<{ id: number }>(`select id from topic limit 1`)
    const free = await made<{ id: number }>(
      on.mara.post('/courses', {
        name: 'Free course',
        access: { for: 'subscribers', topic: topic?.id ?? null },
      }),
    )
    await publish(on, 'free-lesson', [block('heading', { level: 1, words: 'Free' })], {}, free.id)
    const reader = await on.add('reader-c@postbox.test')
    const refused = await lesson('free-lesson', reader)
    expect([refused.status, (await refused.text()).includes('/mine?to=%2Fp%2Ffree-lesson')]).toEqual([
      403,
      true,
    ])
    await on.q.rows(
      topic
        ? `insert into contact_topic values ($1, ${topic.id}, true, now(), 'test')`
        : `update contact set marketing_state = 'subscribed' where id = $1`,
      [reader],
    )
    expect((await lesson('free-lesson', reader)).status).toBe(200)
    await ask('reader-c@postbox.test', '/p/free-lesson')
    const inside = await goIn(await linkIn('reader-c@postbox.test'))
    expect(inside.to).toMatch(/^\/p\/free-lesson\?me=/)
    expect((await lookAt(`${on.install.url}${inside.to}`)).status).toBe(200)
  })

  it('starts each person by their own first look at it', async () => {
    await on.mara.post('/courses', { name: 'Other course' })
    const seen = await on.q.rows<{ page: number }>(
      'select page_id page from lesson_seen where contact_id = $1',
      [buyer],
    )
    expect(seen.map(({ page }) => page).sort()).toEqual([...pages].sort())
  })
})

describe('the buyers’ area', () => {
  it('answers alike whether an address is known or not, and writes to nobody who is not', async () => {
    const said = async (address: string): Promise<string> =>
      (await (await ask(address)).text()).replace(/nonce="[^"]+"/, '')
    const known = await said('buyer@postbox.test')
    const unknown = await said('nobody-here@postbox.test')
    const none = await said('no address')
    expect([unknown, none]).toEqual([known, known])
    await linkIn('buyer@postbox.test')
    expect(on.install.mail.standins?.mailbox.list({ to: 'nobody-here@postbox.test' })).toEqual([])
  })

  it('shows what was bought, the course with how far one is, and the invoice', async () => {
    const { cookie, to, status } = await goIn(await linkIn('buyer@postbox.test'))
    expect([status, to]).toEqual([303, '/mine'])
    const page = await area(cookie)
    for (const words of ['Journal course', 'finished', 'Invoice', 'Email preferences'])
      expect(page).toContain(words)
    const invoice = /href="(\/order\/[^"]+\/invoice\/\d+)"/.exec(page)?.[1] ?? ''
    expect((await lookAt(`${on.install.url}${invoice}`)).status).toBe(200)
    const way = /href="(\/p\/lesson-1\?me=[^"]+)"/.exec(page)?.[1] ?? ''
    expect((await lookAt(`${on.install.url}${way}`)).status).toBe(200)
    const out = await fetch(`${on.install.url}/mine/out`, {
      method: 'POST',
      redirect: 'manual',
      headers: { cookie },
    })
    expect(out.headers.get('set-cookie')).toMatch(/^inside=;/)
  })

  it('lets nobody in by a forged cookie, by the mark of a newsletter, or by a link that is an hour old', async () => {
    for (const cookie of ['inside=forged', `inside=${readerMark(on.install.platform, 1)}`])
      expect(await area(cookie)).toContain('Send me the way in')
    expect((await goIn('/mine/in/forged')).status).toBe(404)
    const link = await linkIn('buyer@postbox.test')
    on.install.clock.move(hour)
    expect(await goIn(link)).toMatchObject({ status: 404, cookie: '' })
  })

  it('writes to one person three times a day at most, and leads nowhere outside', async () => {
    const gus = 'often@postbox.test'
    await on.add(gus)
    const elsewhere = ['https://evil.test/', '//evil', '/p//evil?x']
    for (let n = 0; n < 5; n += 1) await ask(gus, elsewhere[n] ?? '')
    const link = await linkIn(gus, 3)
    expect((await goIn(link)).to).toBe('/mine')
    // Whoever writes another place onto a link of their own gets no further.
    for (const to of elsewhere)
      expect((await goIn(`${link.split('?')[0]}?to=${encodeURIComponent(to)}`)).to).toBe('/mine')
    expect((await goIn(`${link.split('?')[0]}?to=/p/lesson-1`)).to).toMatch(/^\/p\/lesson-1\?me=/)
    const rows = await on.q.row<{ count: number }>(
      `select count(*)::int count from buyer_link join contact on contact.id = contact_id where address_key = $1`,
      [gus],
    )
    expect(rows?.count).toBe(3)
  })
})
