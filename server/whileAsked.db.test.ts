import { expect, it } from 'vitest'
import { useInstall } from '../testing/useInstall.ts'

const on = useInstall({ worker: false })

/** Statements of others that wait for a lock. */
const waiting = () =>
  on.q.rows<{ query: string }>(
    `select query from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
  )

it('a count that nobody waits for any more is stopped in the database too, and others go on', async () => {
  const holding = on.q.inTransaction(async (tx) => {
    // Whoever counts people waits here, as a long count would.
    await tx.rows('lock table contact in access exclusive mode')
    const calledOff = new AbortController()
    const first = on.mara
      .ask('/people/count', { tree: null }, calledOff.signal)
      .catch((error: unknown) => error)
    const second = on.mara.ask('/people/count', { tree: null, search: 'postbox' })
    await expect.poll(async () => (await waiting()).length).toBe(2)
    calledOff.abort()
    expect(await first).toMatchObject({ name: 'AbortError' })
    await expect.poll(async () => (await waiting()).length).toBe(1)
    // Not awaited here: it goes on once the lock is gone.
    return () => second
  })
  expect((await (await holding)()).status).toBe(200)
  // The connection that was stopped is as good as new.
  for (let i = 0; i < 20; i += 1) expect((await on.mara.post('/people/count', {})).status).toBe(200)
})
