import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { execFile } from 'node:child_process'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { startDemo } from '../e2e/demo.ts'
import { systemClock } from '../server/clock.ts'
import { connect, type Database } from '../server/database/connect.ts'
import { startBroadcast } from '../server/email/broadcasts/starting.ts'
import { claimMessages } from '../server/email/sending/claimed.ts'
import { openComposer } from '../server/email/sending/composing.ts'
import { connections } from '../server/email/transport.ts'
import { defineModels } from '../server/models.ts'
import type { Platform } from '../server/platform.ts'
import { readSettings } from '../server/settings.ts'
import { createSigner } from '../server/signing.ts'
import { formOn } from './forms/posting.ts'
import { memoryOf, startWeb } from './forms/processes.ts'
import { quantile, report, round, type Found } from './report.ts'
import { addPeople, queueMessages, startSink, startWorker, untilSent, type Sink } from './sending/install.ts'
import { publishLetter } from './sending/letter.ts'
import { askAtRate } from './visitor/load.ts'

const run = promisify(execFile)
const env = { NURTEL_DEMO_PEOPLE: '200', NURTEL_PUBLIC_RATE: '10000000' }
const rounds = 3
const perRound = 10_000
const long = 200_000
const killed = { messages: 20_000, times: 10 }
const broadcastTo = 100_000

interface On {
  database: Database
  platform: Platform
  sink: Sink
  letter: { email: number; html: string }
}

/** Messages a second through one worker beside nodemailer's pool, which composes one fixed message of that size. */
async function measureSpeed({ database, sink, letter }: On): Promise<Found> {
  const folder = await mkdtemp(join(tmpdir(), 'nurtel-letter-'))
  const file = join(folder, 'letter.html')
  await writeFile(file, letter.html)
  const words = 'A plain sentence of eight words, no more. '
  const [ours, theirs, sizes]: [number[], number[], number[]] = [[], [], []]
  let fixedSize = 0
  const pool = async (count = perRound / 2): Promise<void> => {
    await sink.clear()
    await run(process.execPath, [
      ...['--import', 'tsx', 'bench/sending/plainPool.ts'],
      ...[process.env.NURTEL_SMTP_PORT ?? '', String(count), file, String(connections)],
    ])
    const { messages, took, bytes } = await sink.seen()
    fixedSize = bytes / messages
    theirs.push((messages / took) * 1_000)
  }
  const worker = startWorker()
  const product = async (): Promise<void> => {
    await sink.clear()
    await queueMessages(database, letter.email, perRound)
    await untilSent(database, letter.email)
    const { messages, took, bytes } = await sink.seen()
    if (messages !== perRound) throw new Error(`${messages} of ${perRound} messages came`)
    ours.push((messages / took) * 1_000)
    sizes.push(bytes / messages)
  }
  try {
    // Once each, so that both are warm, and the fixed message is made as long as ours are.
    await product()
    await pool(50)
    const { messages, bytes } = await sink.seen()
    const missing = Math.max(0, (sizes[0] ?? 0) - bytes / messages)
    await writeFile(file, letter.html + words.repeat(Math.round(missing / words.length)))
    ours.length = theirs.length = 0
    for (let i = 0; i < rounds; i += 1) {
      await pool()
      await product()
    }
  } finally {
    await worker.stop()
    await rm(folder, { recursive: true })
  }
  const figures = {
    send_ratio: round(quantile(ours, 0.5) / quantile(theirs, 0.5), 2),
    send_per_s: round(quantile(ours, 0.5), 0),
  }
  return {
    figures,
    lines: [
      {
        what: `personal messages of ${round((sizes[0] ?? 0) / 1_000)} kB through one worker, ${connections} connections, median of ${rounds}`,
        ours: `${figures.send_per_s} /s`,
        yardstick: `nodemailer’s pool, one fixed message of ${round(fixedSize / 1_000)} kB: ${round(quantile(theirs, 0.5), 0)} /s (${figures.send_ratio})`,
      },
    ],
  }
}

/** Messages composed a second by one process that does nothing else. */
async function measureComposing({ database, platform, letter }: On): Promise<Found> {
  await queueMessages(database, letter.email, 2_000)
  const speeds = await database.inTransaction(async (tx) => {
    const messages = await claimMessages(tx, systemClock.now(), 2_000)
    const composer = await openComposer(platform, tx, messages, new Map())
    return Array.from({ length: rounds + 1 }, () => {
      const from = performance.now()
      for (const message of messages) composer.compose(message, systemClock.now())
      return (messages.length / (performance.now() - from)) * 1_000
    })
  })
  await database.rows('delete from message where email_id = $1', [letter.email])
  const figures = { render_per_s: round(quantile(speeds.slice(1), 0.5), 0) }
  return {
    figures,
    lines: [{ what: 'composing alone, on one core', ours: `${figures.render_per_s} /s` }],
  }
}

/** What the worker’s memory grows by in a long send, once it is warm. */
async function measureMemory({ database, letter }: On): Promise<Found> {
  await addPeople(database, broadcastTo, long - broadcastTo)
  await queueMessages(database, letter.email, long)
  const worker = startWorker()
  const sent = async (): Promise<number> =>
    (
      await database.row<{ count: number }>(
        `select count(*) count from message where email_id = $1 and state = 'sent'`,
        [letter.email],
      )
    )?.count ?? 0
  let warm = 0
  let most = 0
  try {
    for (let done = 0; done < long;) {
      await new Promise((next) => setTimeout(next, 1_000))
      done = await sent()
      const memory = await memoryOf(worker)
      if (done < long / 10) warm = Math.max(warm, memory)
      else most = Math.max(most, memory)
    }
  } finally {
    await worker.stop()
  }
  const figures = { send_memory_growth_mb: round(most - warm) }
  return {
    figures,
    lines: [
      {
        what: `memory that ${long} messages take besides`,
        ours: `${figures.send_memory_growth_mb} MB`,
        yardstick: `${round(warm)} MB at the most while the first tenth went`,
      },
    ],
  }
}

/** A worker killed at ten moments of a send. */
async function measureKills({ database, sink, letter }: On): Promise<Found> {
  await sink.clear()
  await queueMessages(database, letter.email, killed.messages)
  for (let kill = 0; kill < killed.times; kill += 1) {
    const worker = startWorker()
    const before = (await sink.seen()).messages
    // Somewhere in the middle of a batch, another place each time.
    while ((await sink.seen()).messages < before + 700 + kill * 37)
      await new Promise((next) => setTimeout(next, 5))
    await worker.kill()
  }
  const worker = startWorker()
  await untilSent(database, letter.email)
  await worker.stop()
  const { distinct, doubled, doubledOnTheWire } = await sink.seen()
  const figures = { kill_lost: killed.messages - distinct, kill_doubled: doubled - doubledOnTheWire }
  return {
    figures,
    lines: [
      {
        what: `messages lost of ${killed.messages}, the worker killed ${killed.times} times`,
        ours: String(figures.kill_lost),
      },
      {
        what: 'messages doubled',
        ours: String(figures.kill_doubled),
        yardstick: `${doubledOnTheWire} more that were on the wire, with the same Message-ID`,
      },
    ],
  }
}

/** A broadcast to many made ready, while forms are sent. */
async function measureBroadcast({ database, platform, letter }: On): Promise<Found> {
  await database.rows('delete from message where email_id = $1', [letter.email])
  const web = await startWeb(platform.settings.publicUrl, env)
  const worker = startWorker()
  const page = `${platform.settings.publicUrl}/p/template-pack`
  const post = await formOn(page)
  // Once warm, and once as it is without a broadcast.
  await askAtRate(page, 10, 3, post)
  const before = await askAtRate(page, 10, 5, post)
  const begun = performance.now()
  const id = await startBroadcast(
    platform,
    {
      who: { search: 'reader', tree: null, rehearsal: 'no' },
      email: letter.email,
      topic: null,
      moment: { when: 'now' },
      test: null,
    },
    { by: 'bench' },
  )
  const forms = askAtRate(page, 10, 10, post)
  let took = 0
  for (;;) {
    const row = await database.row<{ ready: boolean }>(
      'select left_out is not null ready from broadcast where id = $1',
      [id],
    )
    if (row?.ready) {
      took = (performance.now() - begun) / 1_000
      break
    }
    await new Promise((next) => setTimeout(next, 20))
  }
  const { latencies, failed } = await forms
  await worker.stop()
  await web.stop()
  if (failed > 0) throw new Error(`${failed} forms were not taken`)
  const figures = {
    broadcast_100k_s: round(took),
    broadcast_form_ms: round(quantile(latencies, 1)),
  }
  return {
    figures,
    lines: [
      { what: `a broadcast to ${broadcastTo} made ready`, ours: `${figures.broadcast_100k_s} s` },
      {
        what: 'a form meanwhile, the longest of 100',
        ours: `${figures.broadcast_form_ms} ms`,
        yardstick: `median ${round(quantile(latencies, 0.5))} ms; without a broadcast ${round(quantile(before.latencies, 0.5))} ms`,
      },
    ],
  }
}

/** In this order: the list grows for the last one. */
const parts: Readonly<Record<string, (on: On) => Promise<Found>>> = {
  speed: measureSpeed,
  composing: measureComposing,
  kills: measureKills,
  broadcast: measureBroadcast,
  memory: measureMemory,
}

/**
 * Sending: how fast, in how much memory, and what becomes of it when a worker is killed.
 * @param asked the parts that are wanted; all without any
 */
export async function sending(asked: string[]): Promise<void> {
  const demo = await startDemo(env)
  await demo.stop()
  const settings = readSettings({ ...process.env, ...env })
  const database = connect(settings.databaseUrl, { connections: 4 })
  defineModels(database)
  const platform = {
    database,
    clock: systemClock,
    signer: createSigner(settings.secret),
    settings,
  } as Platform
  const sink = await startSink()
  try {
    // What waits of the story is not what is measured.
    await database.rows(`delete from message where state = 'queued'`)
    await database.rows('update followup set state = $1', ['paused'])
    await addPeople(database, 0, broadcastTo)
    const on: On = { database, platform, sink, letter: await publishLetter(database) }
    const found: Found[] = []
    for (const [name, measure] of Object.entries(parts))
      if (asked.length === 0 || asked.includes(name)) found.push(await measure(on))
    report(
      'sending',
      found.flatMap(({ lines }) => lines),
      Object.assign({}, ...found.map(({ figures }) => figures)) as Record<string, number>,
    )
  } finally {
    await database.close()
    await sink.process.stop()
  }
}
