import type { Router } from 'express'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { signedIn, type Marketer } from '../testing/marketer.ts'
import { apiRoutes } from './api.ts'
import { openLive, type Live } from './live.ts'

let install: TestInstall
let mara: Marketer
let live: Live
beforeAll(async () => {
  install = await openInstall()
  mara = await signedIn(install.url)
  live = openLive(install.platform.settings.databaseUrl, install.platform.log, () =>
    Promise.resolve(new Set()),
  )
})
afterAll(async () => {
  await live.close()
  await install.close()
})

interface Layer {
  route?: { path: string; methods: Record<string, boolean> }
  handle: { stack?: Layer[] }
  name: string
}

/** Every route behind the gate, as the router itself lists them: one that is added is looked at too. */
function allRoutes(): { method: string; path: string }[] {
  const walk = (layers: readonly Layer[]): { method: string; path: string }[] =>
    layers.flatMap(({ route, handle }) =>
      route
        ? Object.keys(route.methods).map((method) => ({ method: method.toUpperCase(), path: route.path }))
        : walk(handle.stack ?? []),
    )
  const router: Router = apiRoutes(install.platform, live)
  return walk(router.stack as unknown as Layer[]).filter(
    ({ path }) => !path.startsWith('/sign-') && path !== '/me',
  )
}
const filledIn = (path: string): string => path.replace(/:\w+/g, '1').replace(/\*\w+/g, 'x')
const changes = () => allRoutes().filter(({ method }) => method === 'POST')

describe('every route of the API', () => {
  it('is known to this test', () => {
    // People, tags, topics, fields, segments, scores, imports, work, follow-ups, outbox, today.
    expect(allRoutes().length).toBeGreaterThan(50)
    expect(new Set(allRoutes().map(({ method }) => method))).toEqual(new Set(['GET', 'POST']))
  })

  it('lets no stranger in', async () => {
    for (const { method, path } of allRoutes()) {
      const answer = await fetch(`${install.url}/api${filledIn(path)}`, { method })
      expect(answer.status, `${method} ${path}`).toBe(401)
      expect(answer.headers.get('content-type'), path).toContain('application/problem+json')
      await answer.body?.cancel()
    }
  })

  it('changes nothing without the token of the sign-in (CSRF), whatever another site may send', async () => {
    const door = await fetch(`${install.url}/api/door/sign-in`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ address: 'mara@quillfeather.example', password: 'five-hole-stitch' }),
    })
    const cookie = door.headers.get('set-cookie')?.split(';')[0] ?? ''
    for (const { path } of changes())
      for (const token of [undefined, '', 'x'.repeat(43)]) {
        const answer = await fetch(`${install.url}/api${filledIn(path)}`, {
          method: 'POST',
          headers: {
            cookie,
            'content-type': 'text/plain',
            ...(token !== undefined && { 'x-nurtel-csrf': token }),
          },
          body: '{}',
        })
        expect(answer.status, path).toBe(403)
        await answer.body?.cancel()
      }
  })

  it('answers nonsense with what is wrong, never with a failure of its own', async () => {
    const nonsense = [
      [],
      'x',
      7,
      { who: 3, tree: { kind: 'x' }, card: [], name: {}, columns: 1, does: null },
      { tree: { kind: 'all', of: [{ kind: 'hasTag', tag: '1; drop table contact' }] } },
      { search: 'x'.repeat(5000), sort: '; select', after: '\u0000', size: -1 },
    ]
    for (const { path } of changes())
      for (const body of nonsense) {
        const answer = await mara.post(filledIn(path), body)
        expect(answer.status, `${path} ${JSON.stringify(body).slice(0, 60)}`).toBeLessThan(500)
        const text = await answer.text()
        expect(text, path).not.toMatch(/select |Sequelize|at .*\.ts/)
      }
  })

  it('takes no id that is none', async () => {
    const withId = allRoutes().filter(({ path }) => path.includes(':'))
    expect(withId.length).toBeGreaterThan(20)
    for (const { method, path } of withId)
      for (const id of ['0', '-1', '1.5', 'abc', '9'.repeat(30), '1%00']) {
        const where = path.replace(/:\w+/g, id)
        const answer = method === 'GET' ? await mara.download(where) : await mara.post(where)
        expect(answer.status, `${method} ${where}`).toBeGreaterThanOrEqual(400)
        expect(answer.status, `${method} ${where}`).toBeLessThan(500)
        await answer.body?.cancel()
      }
  })
})

describe('a condition from outside', () => {
  it('that is nested without end is refused, not followed', async () => {
    let tree: unknown = { kind: 'hasTag', tag: 1 }
    for (let depth = 0; depth < 2_500; depth += 1) tree = { kind: 'not', of: tree }
    const answer = await mara.post('/people/count', { tree })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({ title: 'Some of this cannot be used' })
  })

  it('may be as deep as anybody would write it', async () => {
    let tree: unknown = { kind: 'state', is: ['bounced'] }
    for (let depth = 0; depth < 30; depth += 1) tree = { kind: 'not', of: tree }
    expect(await (await mara.post('/people/count', { tree })).json()).toEqual({ people: 0 })
  })

  it('that is larger than any person would write is refused', async () => {
    const tree = {
      kind: 'any',
      of: Array.from({ length: 6_000 }, (_, i) => ({ kind: 'hasTag', tag: i + 1 })),
    }
    const answer = await mara.post('/people/count', { tree })
    expect(answer.status).toBe(413)
  })
})
