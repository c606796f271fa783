import { randomBytes } from 'node:crypto'
import { Readable } from 'node:stream'
import { gzipSync } from 'node:zlib'
import { startDemo } from '../e2e/demo.ts'
import { downloadUrl } from '../server/capture/downloads.ts'
import { storeFile } from '../server/capture/files.ts'
import { systemClock } from '../server/clock.ts'
import { connect, type Database } from '../server/database/connect.ts'
import { createSigner } from '../server/signing.ts'
import type { Platform } from '../server/platform.ts'
import { memoryOf, startPlainInsert, startWeb, type Measurable } from './forms/processes.ts'
import { formOn, posting } from './forms/posting.ts'
import { quantile, report, round, type Found } from './report.ts'
import { askAtOnce, askAtRate, type Load } from './visitor/load.ts'

const connections = 64
const seconds = 6
const rounds = 3
const env = { NURTEL_DEMO_PEOPLE: '200', NURTEL_PUBLIC_RATE: '10000000' }
const downloads = 20
const megabyte = 1024 * 1024

/** Forms a second beside the yardstick, and waiting at half of that load. */
async function measureForms(url: string, database: Database): Promise<Found> {
  const page = `${url}/p/template-pack`
  const form = await formOn(page)
  const port = Number(process.env.BENCH_PG_PORT)
  const yardstick = await startPlainInsert(port, env)
  const plain = `http://127.0.0.1:${port}/`
  const bare = posting('bench', {})
  const stored = async (): Promise<number> =>
    (
      await database.row<{ count: number }>(
        `select count(*) count from activity where kind = 'formSent'
           and (details->>'page')::bigint = (select id from page where path = 'template-pack')`,
      )
    )?.count ?? 0
  const [ours, theirs]: [number[], number[]] = [[], []]
  try {
    const before = await stored()
    let sent = 0
    const send = async (load: Promise<Load>): Promise<Load> => {
      const found = await load
      sent += found.answers
      if (found.failed > 0) throw new Error(`${found.failed} forms were not taken`)
      return found
    }
    await send(askAtOnce(page, connections, 3, form))
    await askAtOnce(plain, connections, 3, bare)
    for (let i = 0; i < rounds; i += 1) {
      theirs.push((await askAtOnce(plain, connections, seconds, bare)).perSecond)
      ours.push((await send(askAtOnce(page, connections, seconds, form))).perSecond)
    }
    const half = await send(askAtRate(page, quantile(ours, 0.5) / 2, 10, form))
    const lost = sent - ((await stored()) - before)
    const figures = {
      form_ratio: round(quantile(ours, 0.5) / quantile(theirs, 0.5), 2),
      forms_per_s: round(quantile(ours, 0.5), 0),
      form_p95_ms: round(quantile(half.latencies, 0.95)),
      forms_lost: lost,
    }
    return {
      figures,
      lines: [
        {
          what: `a form with contact, consent, tag, activity and jobs, ${connections} connections, median of ${rounds}`,
          ours: `${figures.forms_per_s} /s`,
          yardstick: `Express with one validated INSERT: ${round(quantile(theirs, 0.5), 0)} /s (${figures.form_ratio})`,
        },
        {
          what: 'at half of that load, 95 of 100 within',
          ours: `${figures.form_p95_ms} ms`,
          yardstick: `median ${round(quantile(half.latencies, 0.5))} ms`,
        },
        { what: 'forms lost', ours: String(lost), yardstick: `${sent} sent` },
      ],
    }
  } finally {
    await yardstick.stop()
  }
}

/** The memory that many downloads at once take besides. */
async function measureDownloads(url: string, web: Measurable, database: Database): Promise<Found> {
  const platform = {
    database,
    clock: systemClock,
    signer: createSigner(process.env.NURTEL_SECRET ?? ''),
    settings: { publicUrl: url },
  } as Platform
  const noise = randomBytes(megabyte)
  const bytes = Readable.from(
    (function* (): Generator<Buffer> {
      for (let i = 0; i < 100; i += 1) yield noise
    })(),
  )
  const doing = { by: 'bench', at: new Date() }
  const file = await storeFile(platform, { name: 'noise.bin', bytes }, doing)
  const link = downloadUrl(platform, file, null)
  const take = async (): Promise<number> => {
    let size = 0
    const answer = await fetch(link)
    for await (const piece of answer.body ?? []) size += (piece as Uint8Array).length
    return size
  }
  // Once alone, so that what any download needs is there.
  await take()
  const before = await memoryOf(web)
  let most = before
  const watching = setInterval(() => void memoryOf(web).then((now) => (most = Math.max(most, now))), 50)
  const begun = performance.now()
  const sizes = await Promise.all(Array.from({ length: downloads }, take))
  const took = (performance.now() - begun) / 1_000
  clearInterval(watching)
  const whole = sizes.every((size) => size === 100 * megabyte)
  if (!whole) throw new Error('a download was cut off')
  const figures = { file_memory_mb: round(most - before), files_mb_per_s: round((downloads * 100) / took, 0) }
  return {
    figures,
    lines: [
      {
        what: `${downloads} downloads of 100 MB at once: more memory`,
        ours: `${figures.file_memory_mb} MB`,
        yardstick: `${round(before)} MB before, ${figures.files_mb_per_s} MB/s in all`,
      },
    ],
  }
}

async function measureEmbed(url: string): Promise<Found> {
  const code = await (await fetch(`${url}/embed.js`)).arrayBuffer()
  const figures = { embed_kb: round(gzipSync(new Uint8Array(code), { level: 9 }).length / 1_000) }
  return {
    figures,
    lines: [{ what: 'the line for other sites, compressed', ours: `${figures.embed_kb} kB` }],
  }
}

/** Forms as their senders have them, and files as they are taken. */
export async function forms(): Promise<void> {
  // Follow-ups, scores and mail are the worker's: here one web process is measured by itself.
  const demo = await startDemo(env)
  await demo.stop()
  const web = await startWeb(demo.url, env)
  const database = connect(process.env.DATABASE_URL ?? '', { connections: 2 })
  try {
    const found = [
      await measureForms(demo.url, database),
      await measureEmbed(demo.url),
      await measureDownloads(demo.url, web, database),
    ]
    report(
      'forms',
      found.flatMap(({ lines }) => lines),
      Object.assign({}, ...found.map(({ figures }) => figures)) as Record<string, number>,
    )
  } finally {
    await database.close()
    await web.stop()
  }
}
