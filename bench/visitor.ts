import { spawn } from 'node:child_process'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { chromium as engine } from '@playwright/test'
import { chromium } from '../e2e/browser.ts'
import { startDemo } from '../e2e/demo.ts'
import { signIn } from '../e2e/marketer.ts'
import { connect } from '../server/database/connect.ts'
import { eventually } from '../testing/waiting.ts'
import { signedIn } from '../testing/marketer.ts'
import { quantile, report, round, type Measured } from './report.ts'
import { paintOf, sixtyBlocks, writeIn } from './visitor/browsing.ts'
import { askAtOnce, askAtRate } from './visitor/load.ts'

const connections = 16
const seconds = 6
const rounds = 3

const pages = [
  'template-pack',
  'template-pack/thanks',
  'template-pack/file',
  'paper-grain',
  'paper-grain/three-tests',
  'first-journal',
  'privacy',
  'imprint',
]

/** Starts the yardstick in a process of its own, as the product has one. */
async function startPlain(port: number, markup: string): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'nurtel-bench-'))
  const file = join(folder, 'page.html')
  await writeFile(file, markup)
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', 'bench/visitor/plainServer.ts', String(port), file],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  )
  await new Promise<void>((ready) => child.stdout.once('data', () => ready()))
  return async () => {
    child.kill('SIGTERM')
    await rm(folder, { recursive: true })
  }
}

const countVisits = async (path: string): Promise<number> => {
  const database = connect(process.env.DATABASE_URL ?? '', { connections: 1 })
  const row = await database.row<{ count: number }>(
    'select count(*) count from visit join page on page.id = page_id where path = $1',
    [path],
  )
  await database.close()
  return row?.count ?? 0
}

/** Requests a second beside the yardstick, waiting at half of that load, and whether a visit was lost. */
async function measureServer(url: string): Promise<{ lines: Measured[]; figures: Record<string, number> }> {
  const path = 'template-pack'
  const page = `${url}/p/${path}`
  const markup = await (await fetch(page)).text()
  const port = Number(process.env.BENCH_PG_PORT)
  const stop = await startPlain(port, markup)
  const plain = `http://127.0.0.1:${port}/`
  const before = await countVisits(path)
  const [ours, theirs]: [number[], number[]] = [[], []]
  let asked = 0
  try {
    await askAtOnce(page, connections, 2).then(({ answers }) => (asked += answers))
    await askAtOnce(plain, connections, 2)
    for (let i = 0; i < rounds; i += 1) {
      theirs.push((await askAtOnce(plain, connections, seconds)).perSecond)
      const load = await askAtOnce(page, connections, seconds)
      ours.push(load.perSecond)
      asked += load.answers
    }
    const half = await askAtRate(page, quantile(ours, 0.5) / 2, 10)
    asked += half.answers
    const counted = await eventually(async () => {
      const now = (await countVisits(path)) - before
      return now >= asked && now
    }, 20_000).catch(async () => (await countVisits(path)) - before)
    const figures = {
      page_ratio: round(quantile(ours, 0.5) / quantile(theirs, 0.5), 2),
      page_per_s: round(quantile(ours, 0.5), 0),
      page_p99_ms: round(quantile(half.latencies, 0.99)),
      visits_lost: asked - counted,
    }
    return {
      figures,
      lines: [
        {
          what: `a landing page, ${connections} connections, median of ${rounds}`,
          ours: `${figures.page_per_s} /s`,
          yardstick: `Express with a fixed string of ${markup.length} characters: ${round(quantile(theirs, 0.5), 0)} /s (${figures.page_ratio})`,
        },
        {
          what: 'at half of that load, 99 of 100 within',
          ours: `${figures.page_p99_ms} ms`,
          yardstick: `median ${round(quantile(half.latencies, 0.5))} ms, ${half.failed} failed`,
        },
        { what: 'visits lost', ours: `${figures.visits_lost}`, yardstick: `${asked} asked` },
      ],
    }
  } finally {
    await stop()
  }
}

/** Pages as a browser paints them, and the editor as its user has it. */
async function measureBrowser(url: string): Promise<{ lines: Measured[]; figures: Record<string, number> }> {
  const sizes = await Promise.all(
    pages.map(async (path) => (await (await fetch(`${url}/p/${path}`)).arrayBuffer()).byteLength / 1_000),
  )
  const mara = await signedIn(url)
  const made = await mara.post('/pages', {
    name: 'Sixty blocks',
    path: 'sixty-blocks',
    purpose: 'any',
    content: sixtyBlocks(),
  })
  const { id } = (await made.json()) as { id: number }
  const browser = await engine.launch(chromium)
  const paints = []
  for (const path of pages) paints.push(await paintOf(browser, `${url}/p/${path}`))
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: url })
  const page = await context.newPage()
  await signIn(page)
  const { open, keys } = await writeIn(page, id)
  await browser.close()
  const figures = {
    fcp_ms: round(Math.max(...paints.map(({ fcp }) => fcp)), 0),
    cls: round(Math.max(...paints.map(({ shift }) => shift)), 3),
    largest_page_kb: round(Math.max(...sizes)),
    editor_ms: quantile(keys, 0.95),
    editor_open_ms: round(open, 0),
  }
  const lines = [
    {
      what: `first contentful paint, the slowest of ${pages.length} pages, processor 4 times slower`,
      ours: `${figures.fcp_ms} ms`,
    },
    { what: 'layout shift, the largest', ours: String(figures.cls) },
    { what: 'HTML and CSS, the largest page', ours: `${figures.largest_page_kb} kB` },
    { what: 'a key in a page of 60 blocks, 95 of 100 of 40', ours: `${figures.editor_ms} ms` },
    { what: 'opening that page', ours: `${figures.editor_open_ms} ms` },
  ]
  return { figures, lines }
}

/** Pages as their visitors get them, and the editor as its user has it. */
export async function visitor(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: { part: { type: 'string', default: 'all' } },
  })
  if (!['all', 'server', 'browser'].includes(values.part)) throw new Error('--part takes server or browser')
  const demo = await startDemo({ NURTEL_DEMO_PEOPLE: '200', NURTEL_PUBLIC_RATE: '10000000' })
  try {
    const found = []
    if (values.part !== 'browser') found.push(await measureServer(demo.url))
    if (values.part !== 'server') found.push(await measureBrowser(demo.url))
    report(
      'visitor',
      found.flatMap(({ lines }) => lines),
      Object.assign({}, ...found.map(({ figures }) => figures)) as Record<string, number>,
    )
  } finally {
    await demo.stop()
  }
}
