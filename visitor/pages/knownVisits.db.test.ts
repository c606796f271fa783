import { beforeAll, describe, expect, it } from 'vitest'
import { composer } from '../../core/blocks/compose.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const followups = useFollowups(on)
const { block } = composer(numberedIds('visit'))

let page: number
beforeAll(async () => {
  page = await publish(on, 'offer', [block('heading', { words: 'An offer' })])
  await publish(on, 'other', [block('heading', { words: 'Another page' })])
})

const look = async (contact: number, path = 'offer', headers: Record<string, string> = {}): Promise<void> => {
  const mark = readerMark(on.install.platform, contact)
  await lookAt(`${on.install.url}/p/${path}?me=${mark}`, headers)
}
const visited = async (contact: number): Promise<number[]> =>
  (
    await on.q.rows<{ page: number }>(
      `select (details->>'page')::int page from activity where contact_id = $1 and kind = 'pageVisited' order by id`,
      [contact],
    )
  ).map((each) => each.page)
const counted = async (): Promise<number> =>
  (await on.q.row<{ count: number }>('select count(*)::int count from visit'))!.count
/** What was recorded is written half a second later: until another visit, recorded after it, has been. */
async function written(): Promise<void> {
  const before = await counted()
  await lookAt(`${on.install.url}/p/other`)
  await eventually(async () => (await counted()) > before)
}

describe('a visit by somebody who is known', () => {
  it('stands in their journal, once a minute and page', async () => {
    const id = await on.add('visits@postbox.test')
    await look(id)
    await look(id)
    await written()
    await look(id)
    await written()
    expect(await visited(id)).toEqual([page])
    expect((await on.view(id)).journal.map(({ title }) => title)).toContain('visited the page “offer”')
    on.install.clock.move(61_000)
    await look(id)
    await written()
    expect(await visited(id)).toEqual([page, page])
  })

  it('starts what begins with it, and wakes who waits for it', async () => {
    const starts = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 1, unit: 'days' }], {
        startsWhen: [{ kind: 'pageVisited', page }],
      }),
    )
    const waits = await followups.live(
      programOf([
        {
          kind: 'waitUntil',
          id: 'came',
          when: { kind: 'did', activity: 'pageVisited', details: { page }, atLeast: 1 },
          atMost: { amount: 9, unit: 'days' },
          happened: { label: 'Came', steps: [] },
          otherwise: { label: 'Did not', steps: [] },
        },
      ]),
    )
    const id = await on.add('comes@postbox.test')
    await followups.letIn(waits, [id])
    await look(id, 'other')
    await written()
    expect(await followups.standing(starts)).toEqual([])
    await look(id)
    await eventually(async () => (await followups.standing(starts)).length === 1)
    await eventually(async () => (await followups.outcomes(waits, id)).includes('came took'))
  })

  it('is nobody’s business where they wish not to be followed, or their browser asks for that', async () => {
    const id = await on.add('private@postbox.test')
    await look(id, 'offer', { 'sec-gpc': '1' })
    await on.q.rows('update contact set untracked = true where id = $1', [id])
    await look(id)
    await written()
    expect(await visited(id)).toEqual([])
  })

  it('is none where a scanner of their mail followed the link a moment before', async () => {
    const id = await on.add('scanned@postbox.test')
    const message = await on.q.row<{ id: number }>(
      `insert into message (email_id, contact_id, purpose, state, queued_at, due_at)
       values ($1, $2, 'marketing', 'sent', $3, $3) returning id`,
      [on.install.emails.invitation, id, new Date(on.install.clock.now())],
    )
    await on.q.rows(
      `insert into machine_click (message_id, link_id, at, agent, device)
       select $1, id, $2, 'scanner', 'computer' from email_link limit 1`,
      [message?.id, new Date(on.install.clock.now())],
    )
    await look(id)
    await written()
    expect(await visited(id)).toEqual([])
    on.install.clock.move(61_000)
    await look(id)
    await written()
    expect(await visited(id)).toEqual([page])
  })

  it('is by their own clock in rehearsal, and counted in no number', async () => {
    const id = await on.add('made.up@rehearsal.example', { rehearsal: true })
    const until = on.install.clock.now() + 86_400_000
    await on.mara.post(`/people/${id}/jump`, { until: new Date(until).toISOString() })
    const before = await counted()
    await look(id)
    await written()
    expect(await counted()).toBe(before + 1)
    const seen = await on.q.row<{ at: Date }>(
      `select at from activity where contact_id = $1 and kind = 'pageVisited'`,
      [id],
    )
    expect(seen?.at.getTime()).toBe(on.install.clock.now() + 86_400_000)
  })
})
