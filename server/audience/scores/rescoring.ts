import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import type pg from 'pg'
import { from as copyFrom, to as copyTo } from 'pg-copy-streams'
import { createScoreAdder, type Hit } from '../../../core/audience/scores/score.ts'
import { conditionsOfCard, halfLivesOf, type Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { EvaluationContext } from '../../../core/audience/segments/evaluate.ts'
import { createBinds } from '../../database/binds.ts'
import { inChunks, linesOf, openClient } from '../../database/copy.ts'
import type { Progress } from '../../work/longWork.ts'
import type { Platform } from '../../platform.ts'
import { loadContext } from '../segments/evaluationContext.ts'
import { conditionSql } from '../segments/conditionSql.ts'
import { dayNumbers } from './dayNumbers.ts'
import { rowOf, type ScoreRow } from './scoring.ts'

/** A person's hits and profile points, as they come out of the database one person after the other. */
export interface Tally {
  contact: number
  hits: Hit[]
  profile: number
}

/** More than the rules that a scorecard may have. A moment times it stays far below 2^53 until the year 6000. */
const rulesBase = 64
/** Profile points come as negative numbers: more below zero than any profile can give. */
const profileBase = 1_000_000

/**
 * Every person who has points by a scorecard, in the order of their ids, with what gives them. Streams: memory holds
 * a piece of the stream at a time. The sort is the database's; reading by COPY takes a third of the time of rows one
 * by one, and passing people on by the piece half the time of passing on each.
 * @param sample only people whose id leaves no rest when divided by it
 */
export async function* readTallies(
  client: pg.Client,
  { id, card }: { id: number | null; card: Scorecard },
  context: EvaluationContext,
  sample = 1,
): AsyncGenerator<Tally[]> {
  // COPY takes no parameters, so what varies goes into tables that live as long as the transaction.
  await client.query('create temporary table score_rule (rule int, kind text, details jsonb) on commit drop')
  await client.query('insert into score_rule select * from unnest($1::int[], $2::text[], $3::jsonb[])', [
    card.behaviours.map((_, i) => i),
    card.behaviours.map(({ activity }) => activity),
    card.behaviours.map(({ details }) => JSON.stringify(details)),
  ])
  await client.query('create temporary table score_hit (contact bigint, code bigint) on commit drop')
  const binds = createBinds({ values: [sample], shared: [] })
  const profile = card.profile.map(
    ({ when, points }) => `case when ${conditionSql(when, context, binds)} then ${points} else 0 end`,
  )
  if (profile.length > 0)
    await client.query(
      `${binds.with} insert into score_hit select id, points - ${profileBase} from (
         select c.id, ${profile.join(' + ')} points from contact c where c.id % $1 = 0) t where points <> 0`,
      binds.values,
    )
  // What follow-ups gave counts as the profile does: it stays.
  if (id !== null)
    await client.query(
      `insert into score_hit select contact_id, sum((details->>'points')::int) - ${profileBase} from activity
     where kind = 'pointsGiven' and details @> jsonb_build_object('scorecard', $1::bigint) and at <= $2
       and contact_id % $3 = 0 group by 1`,
      [id, new Date(context.now), sample],
    )
  await client.query(
    'create temporary table score_bounds (until timestamptz, kinds text[], sample int) on commit drop',
  )
  await client.query('insert into score_bounds values ($1, $2, $3)', [
    new Date(context.now),
    [...new Set(card.behaviours.map(({ activity }) => activity))],
    sample,
  ])
  await client.query('analyze score_rule, score_bounds')
  const stream = client.query(
    copyTo(
      // A hit is one number, its moment with the place of its rule in the lowest six bits: half the bytes to sort,
      // to send and to read, at ten million of them.
      `copy (
         select contact_id, floor(date_part('epoch', at) * 1000)::bigint * ${rulesBase} + rule from activity a
         join score_rule r on r.kind = a.kind and (r.details = '{}' or a.details @> r.details)
         where a.kind = any((select kinds from score_bounds)::text[]) and at <= (select until from score_bounds)
           and contact_id % (select sample from score_bounds) = 0
         union all select contact, code from score_hit
         order by 1, 2) to stdout`,
    ),
  )
  const nobody = 0
  let current: Tally = { contact: nobody, hits: [], profile: 0 }
  for await (const lines of linesOf(stream)) {
    const complete: Tally[] = []
    for (const line of lines) {
      const tab = line.indexOf('\t')
      const contact = Number(line.slice(0, tab))
      const code = Number(line.slice(tab + 1))
      if (current.contact !== contact) {
        if (current.contact !== nobody) complete.push(current)
        current = { contact, hits: [], profile: 0 }
      }
      if (code < 0) current.profile += code + profileBase
      else {
        const at = Math.floor(code / rulesBase)
        current.hits.push({ rule: code - at * rulesBase, at })
      }
    }
    yield complete
  }
  if (current.contact !== nobody) yield [current]
}

function lineOf(scorecard: number, { contact, stored, band, crossesAt }: ScoreRow): string {
  const crosses = crossesAt === null ? '\\N' : new Date(crossesAt).toISOString()
  const fading = `{${stored.fading.join(',')}}`
  return `${scorecard}\t${contact}\t${new Date(stored.asOf).toISOString()}\t${stored.steady}\t${fading}\t${band}\t${crosses}\n`
}

/**
 * Works out everybody's score by a scorecard from all activity. In one transaction: until it commits, the old scores
 * stand. The bands that change by a change of rules are no activity, since nobody did anything.
 * @returns how many people have points
 */
export async function rescoreEverybody(
  platform: Platform,
  scorecard: number,
  progress: Progress,
): Promise<number> {
  const now = platform.clock.now()
  const people = await platform.database.row<{ count: number }>(
    `select greatest(reltuples, 0)::bigint count from pg_class where oid = 'contact'::regclass`,
  )
  const [reader, writer] = [await openClient(platform), await openClient(platform)]
  let done = 0
  try {
    await writer.query('begin')
    // People's own jobs wait until the new scores stand, and then work from everything they have done.
    const { rows: found } = await writer.query<{ card: Scorecard }>(
      'select coalesce(next_card, card) card from scorecard where id = $1 for update',
      [scorecard],
    )
    const card = found[0]?.card
    if (!card) return 0
    const context = await loadContext(platform.database, conditionsOfCard(card))
    const dayOf = dayNumbers(context.zone)
    await writer.query('delete from contact_score where scorecard_id = $1', [scorecard])
    await reader.query('begin')
    await reader.query("set local work_mem = '256MB'")
    const add = createScoreAdder(card, dayOf)
    const halfLives = halfLivesOf(card)
    const rows = async function* (): AsyncGenerator<string> {
      for await (const some of readTallies(reader, { id: scorecard, card }, { ...context, now })) {
        let lines = ''
        for (const { contact, hits, profile } of some) {
          const stored = add(hits)
          lines += lineOf(
            scorecard,
            rowOf(card, contact, { ...stored, steady: stored.steady + profile }, now, halfLives),
          )
        }
        done += some.length
        await progress.report('calculating scores', done, people?.count ?? null)
        yield lines
      }
    }
    await pipeline(
      Readable.from(inChunks(rows())),
      writer.query(
        copyFrom(
          'copy contact_score (scorecard_id, contact_id, as_of, steady, fading, band, crosses_at) from stdin',
        ),
      ),
    )
    await writer.query(
      'update scorecard set card = coalesce(next_card, card), next_card = null where id = $1',
      [scorecard],
    )
    await writer.query('commit')
  } finally {
    await reader.end()
    await writer.end()
  }
  return done
}
