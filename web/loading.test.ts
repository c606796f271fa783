import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref, type EffectScope } from 'vue'
import { FakeStream } from '../testing/screen.ts'
import { ApiProblem } from './api.ts'
import { useAttempts } from './attempt.ts'
import { closeLive, openLive } from './live.ts'
import { useLoaded } from './loading.ts'
import { useNowIso } from './now.ts'

/** An answer that comes when the test says so. */
function later<T>() {
  let [give, refuse] = [(_: T): void => undefined, (_: unknown): void => undefined]
  const promise = new Promise<T>((resolve, reject) => ([give, refuse] = [resolve, reject]))
  return { promise, give, refuse }
}

let screen: EffectScope
beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('EventSource', FakeStream)
  openLive(() => Promise.resolve(true))
  screen = effectScope()
})
afterEach(() => {
  screen.stop()
  closeLive()
  vi.useRealTimers()
})

describe('what a screen shows', () => {
  it('is loaded at once, and again when what it depends on changes', async () => {
    const id = ref(1)
    const load = vi.fn((_signal: AbortSignal) => Promise.resolve(`person ${id.value}`))
    const { data } = screen.run(() => useLoaded(load, [], () => id.value))!
    await flushPromises()
    expect(data.value).toBe('person 1')
    id.value = 2
    await flushPromises()
    expect(data.value).toBe('person 2')
    expect(load).toHaveBeenCalledTimes(2)
  })

  it('is never an older answer that comes late: the question before is called off', async () => {
    const [first, second] = [later<string>(), later<string>()]
    const signals: AbortSignal[] = []
    const answers = [first.promise, second.promise]
    const wish = ref('a')
    const { data, loading } = screen.run(() =>
      useLoaded(
        (signal) => {
          signals.push(signal)
          return answers[signals.length - 1]!
        },
        [],
        () => wish.value,
      ),
    )!
    wish.value = 'ab'
    await flushPromises()
    expect(signals[0]?.aborted).toBe(true)
    second.give('of ab')
    await flushPromises()
    first.refuse(new DOMException('aborted', 'AbortError'))
    await flushPromises()
    expect(data.value).toBe('of ab')
    expect(loading.value).toBe(false)
  })

  it('stays while it is loaded again by a change of its subject, and several changes are one reload', async () => {
    let n = 0
    const { data } = screen.run(() => useLoaded(() => Promise.resolve((n += 1)), ['audience']))!
    await flushPromises()
    for (const subject of ['audience', 'email', 'audience', 'audience'] as const)
      FakeStream.last.tell(subject)
    expect(data.value).toBe(1)
    await vi.advanceTimersByTimeAsync(200)
    expect(data.value).toBe(2)
    FakeStream.last.tell('email')
    await vi.advanceTimersByTimeAsync(1000)
    expect(data.value).toBe(2)
  })

  it('is loaded again while changes never settle, and no change calls off what is under way', async () => {
    const signals: AbortSignal[] = []
    const { data } = screen.run(() =>
      useLoaded(
        async (signal) => {
          signals.push(signal)
          // Longer than it takes until the next change.
          await new Promise((done) => setTimeout(done, 300))
          return signals.length
        },
        ['email'],
      ),
    )!
    await vi.advanceTimersByTimeAsync(300)
    for (let i = 0; i < 100; i += 1) {
      FakeStream.last.tell('email')
      await vi.advanceTimersByTimeAsync(50)
    }
    // Five seconds of a broadcast.
    expect(data.value).toBeGreaterThan(3)
    expect(signals.some(({ aborted }) => aborted)).toBe(false)
  })

  it('comes back by itself when the server was away, and keeps what it showed', async () => {
    const away = new ApiProblem({ status: 0, title: 'Nurtel does not answer', detail: '' })
    const load = vi
      .fn()
      .mockResolvedValueOnce('shown')
      .mockRejectedValueOnce(away)
      .mockResolvedValueOnce('new')
    const { data, problem, reload } = screen.run(() => useLoaded<string>(load, []))!
    await flushPromises()
    await reload()
    expect([data.value, problem.value?.title]).toEqual(['shown', 'Nurtel does not answer'])
    await vi.advanceTimersByTimeAsync(3_100)
    expect([data.value, problem.value]).toEqual(['new', null])
  })

  it('does not ask again and again for what is refused', async () => {
    const load = vi.fn().mockRejectedValue(new ApiProblem({ status: 404, title: 'Gone', detail: '' }))
    const { problem } = screen.run(() => useLoaded(load, []))!
    await flushPromises()
    await vi.advanceTimersByTimeAsync(60_000)
    expect(problem.value?.title).toBe('Gone')
    expect(load).toHaveBeenCalledTimes(1)
  })

  it('asks nothing any more once it is left', async () => {
    const load = vi.fn((_signal: AbortSignal) => new Promise(() => undefined))
    screen.run(() => useLoaded(load, ['audience']))
    screen.stop()
    expect(load.mock.calls[0]?.[0].aborted).toBe(true)
    FakeStream.last.tell('audience')
    await vi.advanceTimersByTimeAsync(1_000)
    expect(load).toHaveBeenCalledTimes(1)
  })
})

describe('live changes that are refused', () => {
  const refuse = (): void => {
    Object.assign(FakeStream.last, { readyState: 2 })
    FakeStream.last.dispatchEvent(new Event('error'))
  }
  beforeEach(() => {
    closeLive()
    Object.assign(FakeStream, { CLOSED: 2 })
  })

  it('are looked for again as long as somebody is signed in, also when the server was away', async () => {
    const isSignedIn = vi.fn<() => Promise<boolean>>()
    isSignedIn.mockRejectedValueOnce(new Error('away')).mockResolvedValue(true)
    openLive(isSignedIn)
    const first = FakeStream.last
    refuse()
    await vi.advanceTimersByTimeAsync(7_000)
    expect(isSignedIn).toHaveBeenCalledTimes(2)
    expect(FakeStream.last).not.toBe(first)
    expect(first.closed).toBe(true)
  })

  it('are not when nobody is', async () => {
    openLive(() => Promise.resolve(false))
    const first = FakeStream.last
    refuse()
    await vi.advanceTimersByTimeAsync(10_000)
    expect(first.closed).toBe(true)
    expect(FakeStream.last).toBe(first)
  })
})

describe('the present moment', () => {
  it('moves on while a screen is open', async () => {
    vi.setSystemTime('2026-11-24T10:00:00Z')
    const now = screen.run(() => useNowIso())!
    expect(now.value).toBe('2026-11-24T10:00:00.000Z')
    await vi.advanceTimersByTimeAsync(60_000)
    expect(now.value).toBe('2026-11-24T10:01:00.000Z')
  })
})

describe('something that a person asks for', () => {
  it('says whether it went through, why not, and that it is under way', async () => {
    const { attempt, refused, busy } = useAttempts()
    const answer = later<undefined>()
    const going = attempt(() => answer.promise)
    expect(busy.value).toBe(true)
    answer.refuse(new ApiProblem({ status: 409, title: 'Taken', detail: 'Choose another name.' }))
    expect(await going).toBe(false)
    expect([refused.value?.title, busy.value]).toEqual(['Taken', false])
    expect(await attempt(() => Promise.resolve())).toBe(true)
    expect(refused.value).toBeNull()
  })
})
