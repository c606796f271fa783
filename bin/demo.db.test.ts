import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { createServer, type AddressInfo, type Server } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../testing/freePort.ts'
import { onServer, urlOf } from '../testing/databases.ts'
import { eventually } from '../testing/waiting.ts'

const listening = (port = 0): Promise<Server> =>
  new Promise((done) => {
    const server = createServer()
    server.listen(port, '127.0.0.1', () => done(server))
  })
const portOf = (server: Server): number => (server.address() as AddressInfo).port
const closed = (server: Server): Promise<void> => new Promise((done) => server.close(() => done()))

const database = `nurtel_demo_${randomBytes(6).toString('hex')}`
let folder: string
let env: Record<string, string>
const ports = [
  'NURTEL_PORT',
  'NURTEL_SMTP_PORT',
  'NURTEL_STANDINS_PORT',
  'NURTEL_OTHER_SITE_PORT',
  'NURTEL_GATEWAY_PORT',
]

beforeAll(async () => {
  await onServer(`create database ${database}`)
  folder = await mkdtemp(join(tmpdir(), 'nurtel-demo-'))
  env = {
    DATABASE_URL: urlOf(database),
    NURTEL_SECRET: 'a secret for tests that is long enough',
    NURTEL_DATA_DIR: folder,
    NURTEL_DEMO_PEOPLE: '60',
    NURTEL_PORT: String(await freePort()),
    NURTEL_SMTP_PORT: String(await freePort()),
    NURTEL_STANDINS_PORT: String(await freePort()),
    NURTEL_OTHER_SITE_PORT: String(await freePort()),
    NURTEL_GATEWAY_PORT: String(await freePort()),
  }
})
afterAll(async () => {
  await onServer(`drop database if exists ${database} with (force)`)
  await rm(folder, { recursive: true })
})

/** Starts the demo's process; `end` gives its exit code, and what it said is collected. */
function run(more: Record<string, string | undefined> = {}, fresh = 'no') {
  const child = spawn(process.execPath, ['--import', 'tsx', 'bin/nurtel.ts', 'demo', `--fresh=${fresh}`], {
    env: { ...process.env, ...env, ...more },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  const said = { out: '', err: '' }
  child.stdout.on('data', (words: Buffer) => (said.out += words.toString()))
  child.stderr.on('data', (words: Buffer) => (said.err += words.toString()))
  const end = new Promise<number | null>((done) => child.once('exit', (code) => done(code)))
  return { said, end, stop: () => child.kill('SIGINT') }
}

/** Asks the demo's own database. */
async function ask(sql: string): Promise<unknown[]> {
  const client = new pg.Client({ connectionString: urlOf(database) })
  await client.connect()
  const { rows } = await client.query<Record<string, unknown>>(sql)
  await client.end()
  return rows.flatMap((row) => Object.values(row))
}

const people = async (): Promise<number> => Number((await ask('select count(*) from contact'))[0])

/** Has questions, long work and the worker's loop of a running demo wait for a lock that nobody gives back. */
async function holdUp(): Promise<pg.Client> {
  const url = `http://127.0.0.1:${env.NURTEL_PORT}/api`
  const signedIn = await fetch(`${url}/auth/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ address: 'mara@quillfeather.example', password: 'five-hole-stitch' }),
  })
  const cookie = signedIn.headers.get('set-cookie')?.split(';')[0] ?? ''
  const { csrfToken } = (await (await fetch(`${url}/auth/me`, { headers: { cookie } })).json()) as {
    csrfToken: string
  }
  const post = (path: string, body: object): Promise<unknown> =>
    fetch(`${url}${path}`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'application/json', 'x-nurtel-csrf': csrfToken },
      body: JSON.stringify(body),
    }).catch(() => undefined)
  await post('/people/bulk', { who: {}, does: { kind: 'addTag', tag: 'Held up' } })
  const client = new pg.Client({ connectionString: urlOf(database) })
  await client.connect()
  await client.query('begin')
  await client.query('lock table contact, contact_tag, enrolment in access exclusive mode')
  for (let i = 0; i < 6; i += 1) void post('/people/count', { search: String(i) })
  await eventually(async () => Number((await ask(waitingForLock))[0]) > 4, patient)
  return client
}
const waitingForLock = `select count(*) from pg_stat_activity
  where datname = current_database() and wait_event_type = 'Lock'`

/** Filling a fresh demo takes half a minute alone, and minutes beside other tests on two busy cores. */
const patient = 900_000

describe('nurtel demo', { timeout: patient }, () => {
  it('comes up, says how to go on, answers, and Ctrl-C ends it within ten seconds, whatever runs', async () => {
    const demo = run()
    await eventually(() => demo.said.out.includes('Nurtel is ready'), patient)
    expect(demo.said.out).toContain(`http://127.0.0.1:${env.NURTEL_PORT}/app/today`)
    expect(demo.said.out).toContain('mara@quillfeather.example with the password five-hole-stitch')
    const health: unknown = await (await fetch(`http://127.0.0.1:${env.NURTEL_PORT}/healthz`)).json()
    expect(health).toEqual({ status: 'ok', database: 'ok', worker: 'ok' })
    const stuck = await holdUp()
    const began = performance.now()
    demo.stop()
    const code = await demo.end
    const took = performance.now() - began
    await stuck.end()
    expect(code, demo.said.err).toBe(0)
    expect(took).toBeLessThan(10_000)
    // Each port can be taken again: nothing holds it.
    for (const name of ports) await closed(await listening(Number(env[name])))
  })

  it('keeps its data when it starts again, and starts over with --fresh', async () => {
    const first = await people()
    expect(first).toBeGreaterThan(60)
    await ask(
      `insert into contact (address, address_key, created_at, updated_at) values ('kept@x.test', 'kept@x.test', now(), now())`,
    )
    for (const [fresh, count] of [
      ['no', first + 1],
      ['yes', first],
    ] as const) {
      const demo = run({}, fresh)
      await eventually(() => demo.said.out.includes('Nurtel is ready'), patient)
      demo.stop()
      await demo.end
      expect(await people()).toBe(count)
    }
  })

  it.each(ports)(
    'says in one sentence that the port of %s is taken, and leaves nothing half running',
    async (name) => {
      const other = await listening()
      const demo = run({ [name]: String(portOf(other)) })
      expect(await demo.end).toBe(1)
      expect(demo.said.err.trim()).toBe(
        `nurtel: Port ${portOf(other)} is taken: stop what uses it, or set NURTEL_PORT, NURTEL_SMTP_PORT, NURTEL_STANDINS_PORT, NURTEL_OTHER_SITE_PORT or NURTEL_GATEWAY_PORT to a free one.`,
      )
      await closed(other)
      for (const free of ports.filter((each) => each !== name))
        await closed(await listening(Number(env[free])))
    },
  )

  it('says that the database does not answer', async () => {
    const demo = run({ DATABASE_URL: `postgres://nurtel:x@127.0.0.1:${await freePort()}/postgres` })
    expect(await demo.end).toBe(1)
    expect(demo.said.err).toMatch(/^nurtel: The database is not responding .*check DATABASE_URL/)
  })

  it('says which setting cannot be used', async () => {
    const demo = run({ NURTEL_PORT: 'kettle' })
    expect(await demo.end).toBe(1)
    expect(demo.said.err).toMatch(/^nurtel: The environment is not usable\. NURTEL_PORT/)
  })
})

/** Runs the start script itself. */
function script(args: string[], more: Record<string, string | undefined>) {
  const child = spawn('bin/demo', args, {
    env: { ...process.env, ...more },
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  let err = ''
  child.stderr.on('data', (words: Buffer) => (err += words.toString()))
  return new Promise<{ code: number | null; err: string }>((done) =>
    child.once('exit', (code) => done({ code, err })),
  )
}

describe('bin/demo', () => {
  it('refuses an option that it does not know', async () => {
    expect(await script(['--frsh'], {})).toEqual({
      code: 1,
      err: 'nurtel: unknown option --frsh; the only one is --fresh.\n',
    })
  })

  it('says when it may not write to the data folder', async () => {
    const { code, err } = await script([], { NURTEL_DATA_DIR: '/proc/nurtel' })
    expect(code).toBe(1)
    expect(err).toContain('nurtel: the folder /proc/nurtel cannot be made: set NURTEL_DATA_DIR')
  })

  it('says when the cluster is broken, and leaves it as it is', async () => {
    const broken = await mkdtemp(join(tmpdir(), 'nurtel-broken-'))
    await mkdir(join(broken, 'cluster'))
    await writeFile(join(broken, 'cluster', 'precious'), 'data')
    const { code, err } = await script([], { NURTEL_DATA_DIR: broken, DATABASE_URL: undefined })
    expect(code).toBe(1)
    expect(err).toContain('is broken or of another PostgreSQL version: start with --fresh to begin anew')
    await rm(broken, { recursive: true })
  })

  it('says when the database’s port is taken', async () => {
    const other = await listening()
    const data = await mkdtemp(join(tmpdir(), 'nurtel-port-'))
    const { code, err } = await script([], {
      NURTEL_DATA_DIR: data,
      NURTEL_PG_PORT: String(portOf(other)),
      DATABASE_URL: undefined,
    })
    expect(code).toBe(1)
    expect(err).toContain(`port ${portOf(other)} is taken, and the database needs it`)
    await closed(other)
    await rm(data, { recursive: true })
  })
})
