import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { account } from '../../testing/filled.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn } from '../../testing/marketer.ts'
import { pauseAfter } from './signInTries.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall({ NURTEL_TRUSTED_PROXIES: 'loopback' })
})
afterAll(() => install.close())
beforeEach(() => install.platform.database.rows('delete from sign_in_try'))

/** @param from where it comes from, as the proxy before us says */
const trySignIn = (body: unknown, { from = '', cookie = '' } = {}) =>
  fetch(`${install.url}/api/auth/sign-in`, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      ...(from && { 'x-forwarded-for': from }),
      ...(cookie && { cookie }),
    },
    body: JSON.stringify(body),
  })
const wrong = { ...account, password: 'six-hole-stitch' }
const statusesOf = (answers: readonly Response[]): number[] => answers.map(({ status }) => status)
const count = (statuses: readonly number[], status: number): number =>
  statuses.filter((each) => each === status).length

describe('the pause after wrong passwords', () => {
  it('is none for five tries from one source, then a second, doubling up to a minute', () => {
    expect([0, 4, 5, 6, 7, 50].map((tries) => pauseAfter(tries))).toEqual([0, 0, 1_000, 2_000, 4_000, 60_000])
  })
})

describe('signing in', () => {
  it('works with the address in any letters, by a cookie that scripts and other sites cannot use', async () => {
    const answer = await trySignIn({ ...account, address: 'MARA@Quillfeather.example' })
    expect(answer.status).toBe(204)
    for (const cookie of answer.headers.getSetCookie()) {
      expect(cookie).toMatch(/HttpOnly/)
      expect(cookie).toMatch(/SameSite=Lax/)
    }
  })

  it('says the same for a wrong password and for an address without account', async () => {
    const known = await trySignIn(wrong)
    const nobody = await trySignIn({ address: 'nobody@quillfeather.example', password: 'x' })
    expect([known.status, nobody.status]).toEqual([401, 401])
    expect(await known.text()).toBe(await nobody.text())
  })

  it('looks at few passwords of fifty that come from one source at once', async () => {
    const statuses = statusesOf(await Promise.all(Array.from({ length: 50 }, () => trySignIn(wrong))))
    // Five at once, then after one second and two more: the next ones are further away than anybody waits here.
    expect(count(statuses, 401)).toBe(7)
    expect(count(statuses, 429)).toBe(43)
  })

  it('looks at few passwords of fifty that come from fifty sources for one account', async () => {
    const statuses = statusesOf(
      await Promise.all(Array.from({ length: 50 }, (_, i) => trySignIn(wrong, { from: `10.0.0.${i + 1}` }))),
    )
    expect(count(statuses, 401)).toBeLessThanOrEqual(23)
    expect(count(statuses, 401) + count(statuses, 429)).toBe(50)
  })

  it('counts a source over all the accounts that it tries', async () => {
    const tries = Array.from({ length: 10 }, (_, i) =>
      trySignIn({ ...wrong, address: `a${i}@quillfeather.example` }),
    )
    expect(count(statusesOf(await Promise.all(tries)), 401)).toBeLessThan(10)
  })

  it('lets the owner in, who waits a moment and is not locked out by strangers', async () => {
    const strangers = Array.from({ length: 20 }, (_, i) => trySignIn(wrong, { from: `10.1.0.${i + 1}` }))
    await Promise.all(strangers)
    const began = performance.now()
    expect((await trySignIn(account, { from: '10.2.0.1' })).status).toBe(204)
    expect(performance.now() - began).toBeGreaterThan(900)
  })

  it('does not even slow down a browser that has signed in before', async () => {
    const first = await trySignIn(account, { from: '10.3.0.1' })
    const cookie = first.headers
      .getSetCookie()
      .map((each) => each.split(';')[0])
      .join('; ')
    await Promise.all(Array.from({ length: 40 }, (_, i) => trySignIn(wrong, { from: `10.4.0.${i + 1}` })))
    expect((await trySignIn(account, { from: '10.5.0.1' })).status).toBe(429)
    expect((await trySignIn(account, { from: '10.5.0.2', cookie })).status).toBe(204)
    expect((await trySignIn(account, { from: '10.5.0.3', cookie: `${cookie}x` })).status).toBe(429)
  })

  it('says after how long to try again', async () => {
    await Promise.all(Array.from({ length: 9 }, () => trySignIn(wrong)))
    const answer = await trySignIn(wrong)
    expect(answer.status).toBe(429)
    const { retryAfter } = (await answer.json()) as { retryAfter: number }
    expect(retryAfter).toBeGreaterThan(5)
    expect(answer.headers.get('retry-after')).toBe(String(retryAfter))
    install.clock.move(retryAfter * 1_000)
    expect((await trySignIn(account)).status).toBe(204)
    // Who knows the password begins anew.
    expect((await trySignIn(wrong)).status).toBe(401)
  })

  it.each([[{}], [{ address: 'a' }], [{ address: 1, password: [] }], ['x']])(
    'answers 422 or 400 to %j',
    async (body) => expect([400, 422]).toContain((await trySignIn(body)).status),
  )
})

describe('who is not signed in', () => {
  it('lets no stranger read anything', async () => {
    for (const path of [
      '/today',
      '/people',
      '/followups',
      '/outbox',
      '/live',
      '/search',
      '/auth/me',
      '/no-such',
    ])
      expect((await fetch(`${install.url}/api${path}`)).status, path).toBe(401)
  })

  it('refuses a change without the token of the sign-in (CSRF)', async () => {
    const signedIn = await trySignIn(account)
    const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? ''
    const answer = await fetch(`${install.url}/api/people/1/rehearsal`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json' },
      body: '{"on":true}',
    })
    expect(answer.status).toBe(403)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
  })

  it('is closed after signing out, and after two weeks without use', async () => {
    const day = 86_400_000
    const mara = await signedIn(install.url)
    expect((await mara.post('/auth/sign-out')).status).toBe(204)
    await expect(mara.get('/today')).rejects.toThrow('401')
    const again = await signedIn(install.url)
    for (let i = 0; i < 3; i += 1) {
      install.clock.move(10 * day)
      const answer = await again.download('/today')
      expect(answer.status).toBe(200)
      // The cookie lasts as long as the sign-in does.
      expect(answer.headers.get('set-cookie')).toMatch(/^nurtel_sign_in=.*Max-Age=1209600/)
    }
    install.clock.move(15 * day)
    await expect(again.get('/today')).rejects.toThrow('401')
  })

  it('tells what is wrong with a request, and nothing of the inside', async () => {
    const mara = await signedIn(install.url)
    await expect(mara.get('/outbox?size=0')).rejects.toThrow('422')
    await expect(mara.get('/people/abc')).rejects.toThrow('404')
    await expect(mara.get('/people/99999999')).rejects.toThrow(/404.*This person was not found/)
    await expect(mara.get('/nowhere')).rejects.toThrow('404')
  })
})

describe('a password', () => {
  const next = 'kettle-stitch-twice'

  it('is changed by who knows the current one, and every other sign-in ends', async () => {
    const [here, elsewhere] = [await signedIn(install.url), await signedIn(install.url)]
    const refused = await here.post('/auth/password', { current: 'guess', next })
    expect(refused.status).toBe(422)
    expect(await refused.json()).toMatchObject({ fields: { current: 'This is not your password' } })
    const short = await here.post('/auth/password', { current: account.password, next: 'short' })
    expect(await short.json()).toMatchObject({ fields: { next: 'Use 10 characters or more' } })

    expect((await here.post('/auth/password', { current: account.password, next })).status).toBe(204)
    expect((await here.download('/today')).status).toBe(200)
    expect((await elsewhere.download('/today')).status).toBe(401)
    expect((await trySignIn(account)).status).toBe(401)
    expect((await trySignIn({ ...account, password: next })).status).toBe(204)
    expect((await here.post('/auth/password', { current: next, next: account.password })).status).toBe(204)
  })

  it('is not found by trying in an open sign-in either', async () => {
    const mara = await signedIn(install.url)
    const tries = Array.from({ length: 20 }, (_, i) =>
      mara.post('/auth/password', { current: `guess ${i}`, next }),
    )
    expect(count(statusesOf(await Promise.all(tries)), 422)).toBeLessThanOrEqual(7)
  })
})
