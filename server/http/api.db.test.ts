import type { Router } from 'express'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import * as api from '../../contract/api.ts'
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

/** Every route that needs a sign-in, as the router itself lists them: one that is added is looked at too. */
function allRoutes(): { method: string; path: string }[] {
  const walk = (layers: readonly Layer[]): { method: string; path: string }[] =>
    layers.flatMap(({ route, handle }) =>
      route
        ? Object.keys(route.methods).map((method) => ({ method: method.toUpperCase(), path: route.path }))
        : walk(handle.stack ?? []),
    )
  const router: Router = apiRoutes(install.platform, live)
  return walk(router.stack as unknown as Layer[]).filter(({ path }) => path !== api.auth.signIn.path)
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
    const signedIn = await fetch(`${install.url}/api/auth/sign-in`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ address: 'mara@quillfeather.example', password: 'five-hole-stitch' }),
    })
    const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? ''
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
    const harmless = changes().filter(({ path }) => path !== api.auth.signOut.path)
    for (const { path } of harmless)
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
    expect(await answer.json()).toMatchObject({ title: 'Some values are not valid' })
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

describe('words that JavaScript has a meaning for', () => {
  const words = ['constructor', '__proto__', 'toString', 'hasOwnProperty']

  it.each(words)('%s are data as any other', async (word) => {
    const field = await mara.post('/fields', { name: word, kind: 'text', options: [], archived: false })
    expect(field.status).toBe(201)
    const { id } = (await field.json()) as { id: number }
    const person = {
      address: `${word}@postbox.test`,
      firstName: word,
      consent: word,
      tags: [word],
      fields: { [id]: word, [word]: word },
    }
    const added = await mara.post('/people', person)
    expect(added.status).toBe(201)
    const { id: contact } = (await added.json()) as { id: number }
    expect((await mara.get<{ tags: { name: string }[] }>(`/people/${contact}`)).tags).toMatchObject([
      { name: word },
    ])
    const who = encodeURIComponent(JSON.stringify({ search: `${word}@` }))
    const line = await (await mara.download(`/people/export.jsonl?who=${who}`)).text()
    expect(line).toContain(`"fields":{"${word}":"${word}"}`)
    expect((await mara.post(`/people/${contact}/erase`)).status).toBe(204)
  })

  it.each(words)('%s in a question are asked for, and nobody has them', async (word) => {
    const details: unknown = JSON.parse(`{ "${word}": "${word}" }`)
    const tree = { kind: 'did', activity: 'formSent', details }
    const answer = await mara.post('/people/count', { tree })
    if (answer.status === 422) expect(word).toBe('__proto__')
    else expect(await answer.json()).toEqual({ people: 0 })
    const band = { kind: 'band', scorecard: 1, band: word.replaceAll('_', '') }
    expect([200, 409, 422]).toContain((await mara.post('/people/count', { tree: band })).status)
    expect((await fetch(`${install.url}/p/template-pack?${word}=x&utm_source=y`)).status).toBe(200)
  })
})
