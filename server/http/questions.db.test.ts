import { describe, expect, it } from 'vitest'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false, patience: 3_000 })

/** Statements of others that wait for a lock. */
const waiting = () =>
  on.q.rows<{ query: string }>(
    `select query from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
  )

/** Holds everybody up who reads people, as something long would, until `work` is done. */
const whileLocked = <T>(work: () => Promise<T>): Promise<T> =>
  on.q.inTransaction(async (tx) => {
    await tx.rows('lock table contact in access exclusive mode')
    return work()
  })

describe('a question that nobody waits for any more', () => {
  it('is stopped in the database too, within a second, and others go on', async () => {
    const second = await whileLocked(async () => {
      const calledOff = new AbortController()
      const first = on.mara
        .ask('/people/count', { tree: null }, calledOff.signal)
        .catch((error: unknown) => error)
      const other = on.mara.ask('/people/count', { tree: null, search: 'postbox' })
      await expect.poll(async () => (await waiting()).length).toBe(2)
      calledOff.abort()
      expect(await first).toMatchObject({ name: 'AbortError' })
      await expect.poll(async () => (await waiting()).length, { timeout: 1_000 }).toBe(1)
      // Not awaited here: it goes on once the lock is gone.
      return () => other
    })
    expect((await second()).status).toBe(200)
    // The connection that was stopped is as good as new.
    for (let i = 0; i < 20; i += 1) expect((await on.mara.post('/people/count', {})).status).toBe(200)
  })

  it('never begins when it was called off while it waited for its turn', async () => {
    const stop = new AbortController()
    const asked = await whileLocked(async () => {
      const all = Array.from({ length: 14 }, () =>
        on.mara.ask('/people/count', { tree: null }, stop.signal).catch((error: unknown) => error),
      )
      await expect.poll(async () => (await waiting()).length).toBe(4)
      stop.abort()
      await Promise.all(all)
      await expect.poll(async () => (await waiting()).length, { timeout: 2_000 }).toBe(0)
      return all.length
    })
    expect(asked).toBe(14)
  })
})

describe('many questions at once', () => {
  it('hold no public page up: they have connections of their own', async () => {
    await on.q.inTransaction(async (tx) => {
      // Counting waits for the activities; the public page does not read them.
      await tx.rows('lock table activity in access exclusive mode')
      const tree: Condition = { kind: 'did', activity: 'emailOpened', details: {}, atLeast: 1 }
      const stop = new AbortController()
      const asked = Array.from({ length: 14 }, () =>
        on.mara.ask('/people/count', { tree }, stop.signal).catch(() => undefined),
      )
      await expect.poll(async () => (await waiting()).length).toBe(4)
      for (let i = 0; i < 5; i += 1)
        expect((await fetch(`${on.install.url}/p/template-pack`)).status).toBe(200)
      stop.abort()
      await Promise.all(asked)
    })
  })
})

describe('a question that takes too long', () => {
  it('is given up, and that is said', async () => {
    const answer = await whileLocked(() => on.mara.post('/people/count', { tree: null }))
    expect(answer.status).toBe(503)
    expect(await answer.json()).toMatchObject({ title: 'This took too long' })
  })
})
