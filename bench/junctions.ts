import { parseArgs } from 'node:util'
import { chanceFrom } from '../core/chance.ts'
import type { Condition, Leaf } from '../core/audience/segments/condition.ts'
import { junctionContent } from '../core/junctions/junction.ts'
import { proveJunction, type AskedRule } from '../core/junctions/proof.ts'
import { junctionDrafts } from '../server/junctions/junctionDrafts.ts'
import { createJunction } from '../server/junctions/junctions.ts'
import { readerMark } from '../server/pages/readers.ts'
import { freePort } from '../testing/freePort.ts'
import { openInstall, type TestInstall } from '../testing/install.ts'
import { setup } from '../testing/template.ts'
import { eventually } from '../testing/waiting.ts'
import { measurable, start, startWeb } from './forms/processes.ts'
import { quantile, report, round, type Found } from './report.ts'
import { askAtRate, type Load } from './visitor/load.ts'

const perSecond = 500
const seconds = 20
/** Each is asked so long before it counts, at the same rate: connections are open, and code is compiled. */
const warmUp = 12
const rulesProved = 30
const questions = 20

/** People, of whom one in three has one tag and one in five another. */
async function fill({ platform: { database: q, clock } }: TestInstall, people: number): Promise<number[]> {
  const tags = await q.rows<{ id: number }>(
    `insert into tag (name, created_at) values ('Journal buyer', now()), ('Circle member', now()) returning id`,
  )
  await q.rows(
    `insert into contact (address, address_key, first_name, marketing_state, created_at, updated_at)
     select a, a, 'Ada', 'subscribed', $2::timestamptz, $2 from (
       select 'reader' || i || '@postbox.test' a from generate_series(1, $1::bigint) i) t`,
    [people, new Date(clock.now())],
  )
  for (const [n, { id }] of tags.entries())
    await q.rows(
      `insert into contact_tag (contact_id, tag_id, added_at, added_by)
       select id, $1::bigint, $2::timestamptz, 'bench' from contact where id % $3 = 0`,
      [id, new Date(clock.now()), n === 0 ? 3 : 5],
    )
  await q.rows('vacuum analyze')
  await q.rows('checkpoint')
  return tags.map(({ id }) => id)
}

async function openJunction({ platform }: TestInstall, [buyer = 0, member = 0]: number[]): Promise<void> {
  const { database: q, clock } = platform
  const doing = { by: 'bench', at: new Date(clock.now()) }
  const page = await q.row<{ id: number }>('select id from page where published_version is not null limit 1')
  const tagged = (tag: number): Condition => ({ kind: 'hasTag', tag })
  const not = (of: Condition): Condition => ({ kind: 'not', of })
  const target = { to: 'page', page: page?.id ?? 0 }
  const content = junctionContent.parse({
    rules: [
      { id: 'neither1', when: { kind: 'all', of: [not(tagged(buyer)), not(tagged(member))] }, target },
      { id: 'buyeronly', when: { kind: 'all', of: [tagged(buyer), not(tagged(member))] }, target },
      { id: 'eitherone', when: { kind: 'any', of: [tagged(buyer), tagged(member)] }, target },
    ],
    otherwise: target,
  })
  await q.inTransaction(async (tx) => {
    const id = await createJunction(tx, { name: 'What next', content }, doing)
    await junctionDrafts(null).publish(tx, id, { version: 1, revision: 1 }, doing)
  })
}

/** Redirects at a steady rate, of people anywhere on the list; beside a plain look-up at the same rate. */
async function measureRedirects(install: TestInstall, people: number): Promise<Found> {
  await openJunction(install, await fill(install, people))
  const { platform } = install
  const { databaseUrl, secret } = platform.settings
  const [port, plainPort] = [await freePort(), await freePort()]
  const env = {
    DATABASE_URL: databaseUrl,
    NURTEL_SECRET: secret,
    NURTEL_PORT: String(port),
    NURTEL_PUBLIC_RATE: '10000000',
    NURTEL_LOG: 'silent',
  }
  const url = `http://127.0.0.1:${port}`
  const web = await startWeb(url, env)
  const plain = measurable(start('bench/junctions/plainRedirect.ts', [String(plainPort)], env))
  const plainUrl = `http://127.0.0.1:${plainPort}`
  await eventually(
    async () => (await fetch(`${plainUrl}/1`, { redirect: 'manual' }).catch(() => null)) !== null,
    30_000,
  )
  try {
    const chance = chanceFrom(7)
    const { low } = (await platform.database.row<{ low: number }>('select min(id) low from contact')) ?? {
      low: 1,
    }
    const somebody = (): number => low + chance.below(people)
    const marks = Array.from({ length: perSecond * seconds }, () => readerMark(platform, somebody()))
    let next = 0
    const address = (): string => `${url}/j/what-next?me=${marks[(next += 1) % marks.length]}`
    const steadily = async (asked: () => string): Promise<Load> => {
      await askAtRate(asked, perSecond, warmUp)
      return askAtRate(asked, perSecond, seconds)
    }
    const theirs = await steadily(() => `${plainUrl}/${somebody()}`)
    const ours = await steadily(address)
    if (ours.failed > 0) throw new Error(`${ours.failed} were not sent on`)
    const figures = {
      redirect_p95_ms: round(quantile(ours.latencies, 0.95)),
      redirect_median_ms: round(quantile(ours.latencies, 0.5)),
    }
    return {
      figures,
      lines: [
        { what: 'people on the list', ours: people.toLocaleString('en') },
        {
          what: `decided and redirected at ${perSecond} a second: 95 of 100 within, median`,
          ours: `${figures.redirect_p95_ms} / ${figures.redirect_median_ms} ms`,
          yardstick: `Express with one look-up of tags: ${round(quantile(theirs.latencies, 0.95))} / ${round(quantile(theirs.latencies, 0.5))} ms`,
        },
      ],
    }
  } finally {
    await web.stop()
    await plain.stop()
  }
}

/** Questions of all kinds that can be compared. */
const leaves: readonly Leaf[] = Array.from({ length: questions }, (_, i): Leaf => {
  if (i < 10) return { kind: 'hasTag', tag: i + 1 }
  if (i < 14) return { kind: 'topic', topic: i }
  if (i < 17) return { kind: 'field', field: 1, test: { test: 'atLeast', value: i } }
  return { kind: 'score', scorecard: 1, atLeast: i }
})

function rulesOf(seed: number, asked: readonly Leaf[]): AskedRule[] {
  const chance = chanceFrom(seed)
  const part = (): Condition => {
    const leaf = chance.pick(asked)
    return chance.flip(0.4) ? { kind: 'not', of: leaf } : leaf
  }
  return Array.from({ length: rulesProved }, (_, i) => ({
    id: `rule${i}`,
    when: { kind: 'all', of: Array.from({ length: 2 + chance.below(3) }, part) },
  }))
}

/** The proof of many rules; beside it, all combinations of fewer questions tried one by one. */
function measureProof(): Found {
  const known = { fields: [{ id: 1, kind: 'number' as const }], scorecards: {} }
  proveJunction(rulesOf(0, leaves), known)
  const found = Array.from({ length: 21 }, (_, seed) => {
    const from = performance.now()
    proveJunction(rulesOf(seed + 1, leaves), known)
    return performance.now() - from
  })
  const tags = leaves.slice(0, 10)
  const tried = Array.from({ length: 3 }, (_, seed) => {
    const rules = rulesOf(seed + 1, tags)
    const from = performance.now()
    for (let people = 0; people < 2 ** 10; people += 1)
      rules.find(({ when }) => holds(when, (leaf) => ((people >> tags.indexOf(leaf)) & 1) === 1))
    return performance.now() - from
  })
  const figures = { proof_ms: round(quantile(found, 0.5)), proof_slowest_ms: round(quantile(found, 1)) }
  return {
    figures,
    lines: [
      {
        what: `proof of ${rulesProved} rules over ${questions} questions: median, slowest of ${found.length}`,
        ours: `${figures.proof_ms} / ${figures.proof_slowest_ms} ms`,
        yardstick: `all of ${questions / 2} questions one by one: ${round(quantile(tried, 0.5))} ms, twice as long with each more`,
      },
    ],
  }
}

const holds = (when: Condition, of: (leaf: Leaf) => boolean): boolean => {
  if (when.kind === 'not') return !holds(when.of, of)
  if (when.kind === 'all') return when.of.every((part) => holds(part, of))
  return when.kind === 'any' ? when.of.some((part) => holds(part, of)) : of(when)
}

/** Junctions over a large list: deciding and redirecting, and the proof while one edits. */
export async function junctions(args: string[]): Promise<void> {
  const { values } = parseArgs({ args, options: { people: { type: 'string', default: '1000000' } } })
  const people = Number(values.people)
  if (!(people >= 1_000)) throw new Error('--people takes a number of at least 1000')
  const proof = measureProof()
  await setup()
  const install = await openInstall()
  try {
    const redirects = await measureRedirects(install, people)
    report('junctions', [...redirects.lines, ...proof.lines], { ...redirects.figures, ...proof.figures })
  } finally {
    await install.close()
  }
}
