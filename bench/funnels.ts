import { parseArgs } from 'node:util'
import { checkOf } from '../server/funnels/checking.ts'
import { viewFunnel } from '../server/funnels/diagram.ts'
import { openFunnel } from '../server/funnels/goingLive.ts'
import { placeFunnel } from '../server/funnels/placing.ts'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { setup } from '../testing/template.ts'
import { fillWithVisits } from './funnels/visits.ts'
import { largeFunnel } from './funnels/largeFunnel.ts'
import { quantile, report, round, type Found } from './report.ts'

const times = 9

/** The median and the slowest of some runs, the first of which only warms up (milliseconds). */
async function measure(work: () => Promise<unknown>): Promise<number[]> {
  await work()
  const found: number[] = []
  for (let i = 0; i < times; i += 1) {
    const from = performance.now()
    await work()
    found.push(performance.now() - from)
  }
  return found
}
const told = (found: readonly number[]): string =>
  `${round(quantile(found, 0.5))} / ${round(quantile(found, 1))} ms`

/** Twenty pages, five follow-ups and sixty emails, as drafts: the check of the whole before it goes live. */
async function measureCheck({ platform }: TestInstall): Promise<Found & { id: number }> {
  const { database: q, clock } = platform
  const doing = { by: 'bench', at: new Date(clock.now()) }
  const id = await q.inTransaction((tx) =>
    placeFunnel(tx, largeFunnel(), { name: 'Large', path: 'large', tags: 'shared' }, doing),
  )
  const found = await measure(() => checkOf(q, id, doing.at))
  const errors = (await checkOf(q, id, doing.at)).filter(({ level }) => level === 'error')
  if (errors.length > 0) throw new Error(`the funnel of the benchmark has faults: ${errors[0]?.words}`)
  return {
    id,
    lines: [{ what: 'check of 20 pages, 5 follow-ups, 60 emails: median, slowest', ours: told(found) }],
    figures: { check_ms: round(quantile(found, 0.5)) },
  }
}

async function measureDiagram(
  { platform }: TestInstall,
  large: number,
  { people, visits }: { people: number; visits: number },
): Promise<Found> {
  const { database: q, clock } = platform
  const now = clock.now()
  await q.inTransaction((tx) => openFunnel(tx, large, 'everybody', { by: 'bench', at: new Date(now) }))
  const rows = await q.rows<{ id: number }>('select id from page order by id')
  const pages = rows.slice(0, 5).map(({ id }) => id)
  const others = rows.slice(5).map(({ id }) => id)
  const more =
    others.length < 40 ? Array.from({ length: 40 }, (_, i) => others[i % others.length] ?? 0) : others
  await fillWithVisits(q, { people, visits, pages, others: more, now })
  const line = pages.map((page) => ({ kind: 'page' as const, id: `p${page}`, page }))
  await q.rows('update funnel set stations = $2 where id = $1', [large, JSON.stringify(line)])
  const found = await measure(() => viewFunnel(platform, large, 30))
  // The yardstick: the visits of the same pages and days, counted one by one.
  const counted = await measure(() =>
    q.rows(
      'select page_id, count(distinct visitor) from visit where page_id = any($1) and at >= $2 group by 1',
      [pages, new Date(now - 30 * 86_400_000)],
    ),
  )
  const { stations } = await viewFunnel(platform, large, 30)
  const total = await q.row<{ n: number }>('select count(*)::int n from visit')
  return {
    lines: [
      { what: 'people, visits', ours: `${people.toLocaleString('en')}, ${total?.n.toLocaleString('en')}` },
      { what: 'visitors of its first page in 30 days', ours: String(stations[0]?.visitors) },
      {
        what: 'diagram with the numbers of 30 days: median, slowest',
        ours: told(found),
        yardstick: `counting its visitors by SQL: ${told(counted)}`,
      },
    ],
    figures: { diagram_ms: round(quantile(found, 0.5)), plain_count_ms: round(quantile(counted, 0.5)) },
  }
}

/** A funnel among many: its diagram, and its check before it goes live. */
export async function funnels(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      people: { type: 'string', default: '1000000' },
      visits: { type: 'string', default: '20000000' },
    },
  })
  const size = { people: Number(values.people), visits: Number(values.visits) }
  if (!(size.people >= 1_000 && size.visits >= 1_000))
    throw new Error('--people and --visits take numbers of at least 1000')
  await setup()
  const install = await openInstall()
  try {
    const { id, ...check } = await measureCheck(install)
    const diagram = await measureDiagram(install, id, size)
    report('funnels', [...diagram.lines, ...check.lines], { ...diagram.figures, ...check.figures })
  } finally {
    await install.close()
  }
}
