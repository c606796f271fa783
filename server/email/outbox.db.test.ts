import { beforeAll, describe, expect, it } from 'vitest'
import type { OutboxCounts, OutboxList } from '../../contract/email.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })
const list = (query = '') => on.mara.get<OutboxList>(`/outbox?${query}`)

beforeAll(async () => {
  const [ada, bea] = [
    await on.add('ada@postbox.test', { firstName: 'Ada' }),
    await on.add('bea@postbox.test'),
  ]
  // Some at the very same moment: ids settle ties.
  await on.q.rows(
    `insert into message (email_id, contact_id, purpose, state, queued_at, sent_at)
     select $1, case when n % 2 = 0 then $2::bigint else $3::bigint end, 'marketing',
       (array['sent', 'sent', 'failed', 'held', 'queued'])[n % 5 + 1],
       timestamptz '2026-11-20 10:00:00.123456Z' + (n / 3) * interval '1 microsecond', now()
     from generate_series(1, 250) n`,
    [on.install.emails.grain, ada, bea],
  )
})

describe('the outbox', () => {
  it.each([
    ['sent', 100],
    ['problems', 100],
    ['queue', 50],
  ])('shows %s newest first, page by page, without leaving anything out', async (show, count) => {
    const ids: number[] = []
    let after = ''
    do {
      const page = await list(`show=${show}&size=37${after && `&after=${after}`}`)
      ids.push(...page.rows.map(({ id }) => id))
      after = page.next ?? ''
    } while (after !== '')
    expect(new Set(ids).size).toBe(count)
    expect(ids).toEqual([...ids].sort((a, b) => b - a))
  })

  it('finds messages by person, address and email', async () => {
    expect((await list('search=ADA&size=200')).rows).toHaveLength(50)
    expect((await list('search=bea@&size=200&show=queue')).rows).toHaveLength(25)
    expect((await list('search=paper+grain&size=200')).rows).toHaveLength(100)
    expect((await list('search=nobody')).rows).toEqual([])
  })

  it('begins anew where the place to go on from is none', async () => {
    for (const after of ['x', '1', '1-x', '-1--1', '9e99-1', '99999999999999999999-1'])
      expect((await list(`after=${after}&size=5`)).rows, after).toHaveLength(5)
  })

  it('counts what waits and what did not go out, and never what was sent', async () => {
    expect(await on.mara.get<OutboxCounts>('/outbox/counts')).toEqual({ queue: 50, problems: 100 })
    await on.q.rows('set enable_seqscan = off')
    const plan = await on.q.rows<Record<string, string>>(
      `explain select count(*) from (select from message where state in ('queued') limit 1001) few`,
    )
    expect(JSON.stringify(plan)).toMatch(/message_(by_state|due)/)
  })
})

describe('what is looked up by an index', () => {
  it.each([
    ['import_change', 'contact_id'],
    ['form_sending', 'contact_id'],
    ['decision', 'enrolment_id'],
    ['message', 'sent_at'],
  ])('%s by %s is', async (table, column) => {
    const found = await on.q.rows<{ indexdef: string }>(
      'select indexdef from pg_indexes where tablename = $1',
      [table],
    )
    expect(found.some(({ indexdef }) => indexdef.includes(`(${column}`))).toBe(true)
  })
})
