import { createServer, request, type IncomingMessage, type Server } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readSettings } from '../server/settings.ts'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { signedIn } from '../testing/marketer.ts'
import { postForm } from '../testing/visitor.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall({ NURTEL_URL: 'http://letters.quillfeather.example', NURTEL_LOG: 'silent' })
})
afterAll(() => install.close())

interface Answer {
  status: number
  headers: IncomingMessage['headers']
  body: string
}

/** Asks a port under any name: fetch sets the Host header by itself. */
function ask(port: number, path: string, headers: Record<string, string> = {}): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const asked = request({ host: '127.0.0.1', port, path, headers }, (answer) => {
      let body = ''
      answer.on('data', (part: Buffer) => (body += part.toString()))
      answer.on('end', () => resolve({ status: answer.statusCode ?? 0, headers: answer.headers, body }))
    })
    asked.on('error', reject)
    asked.end()
  })
}

const web = (path: string, headers?: Record<string, string>) =>
  ask(install.platform.settings.port, path, headers)
const inbox = (path: string, headers?: Record<string, string>) =>
  ask(install.platform.settings.standinsPort, path, headers)

/** One address of every sort that answers. */
const paths = [
  '/healthz',
  '/api/today',
  '/api/nowhere',
  '/app/today',
  '/app/assets/none.js',
  '/p/template-pack',
  '/p/nowhere',
  '/contact-card.vcf',
  '/assets/fonts/figtree-latin.woff2',
  '/seen/none',
  '/files/none',
]

describe('every answer', () => {
  it.each(paths)(
    'of %s says that types are not guessed, who may embed it, and what may run',
    async (path) => {
      const { headers } = await web(path)
      expect(headers['x-content-type-options']).toBe('nosniff')
      // Other sites show the opening picture in mail, and with the forms of the business its typefaces.
      expect(headers['cross-origin-resource-policy']).toBe(
        /^\/(seen|assets\/fonts)\//.test(path) ? 'cross-origin' : 'same-origin',
      )
      expect(headers['content-security-policy']).toMatch(/default-src 'none'/)
    },
  )

  it.each(['/messages', '/rows', '/messages/1', '/nowhere'])('of the test inbox at %s too', async (path) => {
    const { headers } = await inbox(path)
    expect(headers['x-content-type-options']).toBe('nosniff')
    expect(headers['cross-origin-resource-policy']).toBe('same-origin')
    expect(headers['content-security-policy']).toMatch(/default-src 'none'/)
  })

  it('to what is no HTTP is a plain refusal with the same headers', async () => {
    const said = await new Promise<string>((done) => {
      const socket = connect(install.platform.settings.port, '127.0.0.1', () =>
        socket.write('\u0000 nonsense\r\n\r\n'),
      )
      let heard = ''
      socket.on('data', (part) => (heard += part.toString()))
      socket.on('close', () => done(heard))
    })
    expect(said).toMatch(/^HTTP\/1\.1 400 Bad Request\r\n/)
    expect(said).toContain('x-content-type-options: nosniff')
  })
})

describe('a name that leads here', () => {
  it.each(['evil.test', '127.0.0.1.evil.test', 'localhost.evil.test:80', '10.0.0.1', '127.0.0.1, x'])(
    'but is not ours (%j) is answered 421 everywhere (DNS rebinding)',
    async (host) => {
      for (const path of paths) {
        const { status, body } = await web(path, { host })
        expect(status, path).toBe(421)
        expect(body).not.toContain('Quillfeather')
      }
      expect((await inbox('/messages', { host })).status).toBe(421)
    },
  )

  it('and is ours is answered', async () => {
    for (const host of ['letters.quillfeather.example', 'localhost:4600', '127.0.0.1'])
      expect((await web('/p/template-pack', { host })).status, host).toBe(200)
    for (const host of ['localhost:4680', '127.0.0.1'])
      expect((await inbox('/rows', { host })).status).toBe(200)
    // The test inbox is reached from this machine alone.
    expect((await inbox('/rows', { host: 'letters.quillfeather.example' })).status).toBe(421)
  })
})

describe('an error that nobody expected', () => {
  it.each([
    ['/app/assets/none.js', 404],
    ['/app/assets/%', 400],
    ['/app/assets/..%2f..%2fpackage.json', 403],
    ['/p/%E0%A4%A', 400],
    ['/files/%', 400],
    ['/confirm/%ff', 400],
  ])('at %s is a plain page without stack or path', async (path, status) => {
    const answer = await web(path)
    expect(answer.status).toBe(status)
    expect(answer.headers['content-type']).toContain('text/html')
    expect(answer.body).toMatch(/<h1>/)
    expect(answer.body).not.toMatch(/node_modules|dist\/web|at \w+ \(|URIError|ENOENT/)
  })

  it.each([
    ['/api/%', 401],
    ['/api/people/%E0%A4%A', 401],
  ])('at %s is a problem as RFC 9457 has it', async (path, status) => {
    const answer = await web(path)
    expect(answer.status).toBe(status)
    expect(answer.headers['content-type']).toContain('application/problem+json')
    expect(JSON.parse(answer.body)).toMatchObject({ status })
    expect(answer.body).not.toMatch(/node_modules|at \w+ \(|URIError/)
  })

  it('in the stand-in is a problem too', async () => {
    for (const path of ['/messages?to=a&to=b', '/messages/%', '/rows?search=a&search=b']) {
      const answer = await inbox(path)
      expect(answer.status, path).toBe(400)
      expect(answer.headers['content-type']).toContain('application/problem+json')
      expect(answer.body).not.toMatch(/node_modules|at \w+ \(|Zod/)
    }
  })
})

describe('what cannot be stored', () => {
  it.each([['a\u0000b'], ['\ud800'], ['\udc00x']])('(%j) is said, and where it stands', async (name) => {
    const mara = await signedIn(`http://127.0.0.1:${install.platform.settings.port}`)
    const answer = await mara.post('/segments', { name, tree: { kind: 'all', of: [] } })
    expect(answer.status).toBe(422)
    expect(await answer.json()).toMatchObject({
      fields: { name: expect.stringContaining('cannot be stored') as string },
    })
    const field = { kind: 'field', field: 'firstName', test: { test: 'is', value: name } }
    const inside = await mara.post('/people/count', { tree: { kind: 'any', of: [field] } })
    expect(Object.keys(((await inside.json()) as { fields: object }).fields)).toEqual([
      'tree.of.0.test.value',
    ])
    expect(
      (await mara.download(`/search?q=${encodeURIComponent(name.replace(/[\ud800-\udfff]/, '\u0000'))}`))
        .status,
    ).toBe(422)
  })
})

/** A second HTTP hop before the install, which says where requests come from. */
function startProxy(to: number): Promise<Server> {
  const proxy = createServer((incoming, outgoing) => {
    const headers = { ...incoming.headers, 'x-forwarded-for': '203.0.113.7' }
    const on = request(
      { host: '127.0.0.1', port: to, method: incoming.method, path: incoming.url, headers },
      (answer) => {
        outgoing.writeHead(answer.statusCode ?? 502, answer.headers)
        answer.pipe(outgoing)
      },
    )
    incoming.pipe(on)
  })
  return new Promise((done) => proxy.listen(0, '127.0.0.1', () => done(proxy)))
}

describe('behind a proxy', () => {
  // 203.0.113.0/24 is for documentation (RFC 5737).
  it.each([
    ['that is trusted, the visitor’s address is the one it names', 'loopback', '203.0.113.7'],
    ['that nobody trusted, forwarded headers count for nothing', '', '127.0.0.1'],
    ['in another network than the trusted one, neither', '10.0.0.0/8', '127.0.0.1'],
  ])('%s', async (_what, trusted, ip) => {
    const behind = await openInstall({ NURTEL_TRUSTED_PROXIES: trusted })
    const proxy = await startProxy(behind.platform.settings.port)
    const url = `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`
    expect((await postForm(url, { address: 'far@postbox.test' })).status).toBe(303)
    expect(await behind.platform.database.row('select host(sender_ip) ip from consent')).toEqual({ ip })
    await new Promise((done) => proxy.close(done))
    await behind.close()
  })

  it('settings that are no networks are refused before anything starts', () => {
    const env = { DATABASE_URL: 'postgres://x', NURTEL_SECRET: 'x'.repeat(32) }
    for (const NURTEL_TRUSTED_PROXIES of ['everybody', '10.0.0.0/33', '10.0.0.1/8/8', '300.1.1.1'])
      expect(() => readSettings({ ...env, NURTEL_TRUSTED_PROXIES })).toThrow(/NURTEL_TRUSTED_PROXIES/)
    expect(
      readSettings({ ...env, NURTEL_TRUSTED_PROXIES: '10.0.0.7, fd00::/8 loopback' }).trustedProxies,
    ).toEqual(['10.0.0.7', 'fd00::/8', 'loopback'])
    expect(() => readSettings({ ...env, NURTEL_HOST: 'a b' })).toThrow(/NURTEL_HOST/)
    expect(readSettings({ ...env, NURTEL_HOST: '0.0.0.0' }).host).toBe('0.0.0.0')
    expect(readSettings(env)).toMatchObject({ host: '127.0.0.1', trustedProxies: [] })
  })
})
