import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { account, openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn } from '../../testing/marketer.ts'
import { pauseAfter } from './signInTries.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

const knock = (body: unknown) =>
  fetch(`${install.url}/api/door/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })

describe('the pause after wrong passwords', () => {
  it('is none for five tries, then doubles up to a quarter of an hour', () => {
    expect([0, 4, 5, 6, 7, 50].map(pauseAfter)).toEqual([0, 0, 30_000, 60_000, 120_000, 900_000])
  })
})

describe('signing in', () => {
  it('works with the address in any letters, by a cookie that scripts and other sites cannot use', async () => {
    const answer = await knock({ ...account, address: 'MARA@Quillfeather.example' })
    expect(answer.status).toBe(204)
    const cookie = answer.headers.get('set-cookie') ?? ''
    expect(cookie).toMatch(/HttpOnly/)
    expect(cookie).toMatch(/SameSite=Lax/)
  })

  it('says the same for a wrong password and for an address without account', async () => {
    const wrong = await knock({ ...account, password: 'six-hole-stitch' })
    const nobody = await knock({ address: 'nobody@quillfeather.example', password: 'x' })
    expect([wrong.status, nobody.status]).toEqual([401, 401])
    expect(await wrong.text()).toBe(await nobody.text())
  })

  it('is slowed down after five wrong tries, also for the right password, and opens again', async () => {
    const tom = { address: 'tom@quillfeather.example', password: 'wrong' }
    for (let i = 0; i < 5; i += 1) expect((await knock(tom)).status).toBe(401)
    const slowed = await knock(tom)
    expect(slowed.status).toBe(429)
    expect(await slowed.json()).toMatchObject({
      detail: 'Wait 30 seconds, then try again with the right password.',
    })
    // Somebody else is not held up by it.
    expect((await knock(account)).status).toBe(204)
    install.clock.move(31_000)
    expect((await knock(tom)).status).toBe(401)
    expect((await knock(tom)).status).toBe(429)
  })

  it.each([[{}], [{ address: 'a' }], [{ address: 1, password: [] }], ['x']])(
    'answers 422 or 400 to %j',
    async (body) => expect([400, 422]).toContain((await knock(body)).status),
  )
})

describe('the gate', () => {
  it('lets no stranger read anything', async () => {
    for (const path of [
      '/today',
      '/people',
      '/followups',
      '/outbox',
      '/live',
      '/search',
      '/door/me',
      '/no-such',
    ])
      expect((await fetch(`${install.url}/api${path}`)).status, path).toBe(401)
  })

  it('refuses a change without the token of the sign-in (CSRF)', async () => {
    const door = await knock(account)
    const cookie = door.headers.get('set-cookie')?.split(';')[0] ?? ''
    const answer = await fetch(`${install.url}/api/people/1/rehearsal`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json' },
      body: '{"on":true}',
    })
    expect(answer.status).toBe(403)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
  })

  it('is closed after signing out, and after two weeks', async () => {
    const mara = await signedIn(install.url)
    expect((await mara.post('/door/sign-out')).status).toBe(204)
    await expect(mara.get('/today')).rejects.toThrow('401')
    const again = await signedIn(install.url)
    install.clock.move(15 * 86_400_000)
    await expect(again.get('/today')).rejects.toThrow('401')
  })

  it('tells what is wrong with a request, and nothing of the inside', async () => {
    const mara = await signedIn(install.url)
    await expect(mara.get('/outbox?page=0')).rejects.toThrow('422')
    await expect(mara.get('/people/abc')).rejects.toThrow('404')
    await expect(mara.get('/people/99999999')).rejects.toThrow(/404.*This person was not found/)
    await expect(mara.get('/nowhere')).rejects.toThrow('404')
  })
})
