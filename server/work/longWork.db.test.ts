import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { WorkView } from '../../contract/work.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { startWork, cancelWork, runWork, readWork, type Progress, type WorkKind } from './longWork.ts'
import { Problem } from '../http/problems.ts'

let install: TestInstall
let mara: Marketer
beforeAll(async () => {
  install = await openInstall()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

const q = () => install.platform.database
const begin = (payload = {}) => startWork(q(), 'bulk', 'Tag 3 people', payload, new Date(install.clock.now()))
type Work = (payload: unknown, progress: Progress) => Promise<string>
const carry = (id: number, work: Work) =>
  runWork(install.platform, id, { bulk: work } as Record<WorkKind, Work>)
const state = async (id: number) => {
  const found = await readWork(q(), id)
  return [found?.state, found?.said]
}

describe('long work', () => {
  it('waits in the queue, is told its payload, and says what it did', async () => {
    const id = await begin({ tag: 7 })
    expect(await state(id)).toEqual(['waiting', ''])
    const work = vi.fn<Work>(() => Promise.resolve('Done for 3 people.'))
    await carry(id, work)
    expect(work.mock.calls[0]?.[0]).toEqual({ tag: 7 })
    expect(await state(id)).toEqual(['done', 'Done for 3 people.'])
  })

  it('tells how far it is to everybody who looks', async () => {
    const id = await begin()
    let seen: WorkView | undefined
    await carry(id, async (_wish, progress) => {
      await progress.report('processing people', 5_000, 12_000)
      seen = (await mara.get<WorkView[]>('/work')).find((each) => each.id === id)
      return ''
    })
    expect(seen).toMatchObject({
      state: 'running',
      step: 'processing people',
      done: 5_000,
      total: 12_000,
    })
  })

  it('writes down no more than a few steps a second, and each new step at once', async () => {
    const id = await begin()
    await carry(id, async (_wish, progress) => {
      await progress.report('reading', 1, 10)
      await progress.report('reading', 2, 10)
      expect((await readWork(q(), id))?.done).toBe(1)
      await progress.report('writing', 3, 10)
      expect(await readWork(q(), id)).toMatchObject({ step: 'writing', done: 3 })
      return ''
    })
  })

  it('stops at its next step when somebody asks, and says that nothing was changed', async () => {
    const id = await begin()
    let steps = 0
    await carry(id, async (_wish, progress) => {
      for (; steps < 10; steps += 1) {
        if (steps === 2) await mara.post(`/work/${id}/cancel`)
        await progress.report(`step ${steps}`, steps)
      }
      return 'never said'
    })
    expect(steps).toBe(2)
    expect(await state(id)).toEqual(['cancelled', 'Cancelled. Nothing was changed.'])
  })

  it('that came to its end cannot be cancelled any more, nor done again', async () => {
    const id = await begin()
    await carry(id, () => Promise.resolve('Done.'))
    await cancelWork(install.platform, id)
    const again = vi.fn<Work>()
    await carry(id, again)
    expect(again).not.toHaveBeenCalled()
    expect(await state(id)).toEqual(['done', 'Done.'])
  })

  it('says why it could not be done, in the words of the problem', async () => {
    const id = await begin()
    await carry(id, () =>
      Promise.reject(new Problem(409, 'This condition is incomplete', 'Choose something else.')),
    )
    expect(await state(id)).toEqual(['failed', 'This condition is incomplete. Choose something else.'])
  })

  it('tells nothing of the inside when something unforeseen happens', async () => {
    const id = await begin()
    await carry(id, () => Promise.reject(new Error('relation "secret_table" does not exist')))
    const [ended, said] = await state(id)
    expect(ended).toBe('failed')
    expect(said).not.toContain('secret_table')
    expect(said).toContain('nothing was changed')
  })

  it('begins anew after its worker was killed, and says so', async () => {
    const id = await begin()
    await q().rows(`update long_work set state = 'running' where id = $1`, [id])
    await carry(id, () => Promise.resolve('Done for 3 people.'))
    expect(await state(id)).toEqual(['done', 'It was restarted after an interruption. Done for 3 people.'])
  })

  it('is shown for two minutes after its end', async () => {
    const id = await begin()
    await carry(id, () => Promise.resolve('Done.'))
    const shown = async () => (await mara.get<WorkView[]>('/work')).some((each) => each.id === id)
    expect(await shown()).toBe(true)
    install.clock.move(121_000)
    expect(await shown()).toBe(false)
  })
})
