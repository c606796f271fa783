import { startDemo } from '../e2e/demo.ts'
import { systemClock } from '../server/clock.ts'
import { connect, type Database } from '../server/database/connect.ts'
import { recordActivities } from '../server/audience/people/activities.ts'
import { enrolManually } from '../server/followups/manualEnrolment.ts'
import { defineModels } from '../server/models.ts'
import type { Platform } from '../server/platform.ts'
import { readSettings } from '../server/settings.ts'
import { createSigner } from '../server/signing.ts'
import { pino } from 'pino'
import {
  databaseSeconds,
  liveFollowup,
  standOn,
  startAdvancer,
  untilAllLeft,
  untilDone,
} from './followups/install.ts'
import { measureScreens } from './followups/screens.ts'
import { quantile, report, round, type Found } from './report.ts'
import { addPeople } from './sending/install.ts'

const env = { NURTEL_DEMO_PEOPLE: '200', NURTEL_PUBLIC_RATE: '10000000' }
const many = 100_000
const waiting = 1_000_000
const load = { perSecond: 2_000, seconds: 60, aTransaction: 20 }
const killed = { people: 50_000, seconds: 120 }

interface On {
  database: Database
  platform: Platform
  email: number
  url: string
}

/** People who are due go through one step that waits and one that sends; the mail waits in the queue. */
async function measureAdvance({ database, email }: On): Promise<Found> {
  const id = await liveFollowup(database, 'Advance', [
    { kind: 'waitFor', id: 'wait', amount: 2, unit: 'days' },
    { kind: 'send', id: 'mail', email },
  ])
  await standOn(database, id, { step: 'wait', due: `now() - interval '1 second'`, from: 0, count: many })
  const begun = performance.now()
  const worker = startAdvancer()
  await untilDone(database, id)
  const took = (performance.now() - begun) / 1_000
  await worker.stop()
  const sent = await database.row<{ count: number }>(
    'select count(*)::int count from message join enrolment on enrolment.id = enrolment_id where followup_id = $1',
    [id],
  )
  if (sent?.count !== many) throw new Error(`${sent?.count} of ${many} emails are in the queue`)
  const figures = { advance_100k_s: round(took) }
  return {
    figures,
    lines: [
      {
        what: `${many} due people through a wait and an email, one worker`,
        ours: `${figures.advance_100k_s} s`,
      },
    ],
  }
}

/** The same with two workers, on steps that keep the processor busy rather than the database. */
async function measureTwoWorkers({ database }: On): Promise<Found> {
  // Only the last question fails: short reasons, so that little is written of much that is thought.
  const asks = Array.from({ length: 199 }, (_, i) => ({
    kind: 'not' as const,
    of: { kind: 'hasTag' as const, tag: (i % 3) + 1 },
  }))
  const busy = (name: string): Promise<number> =>
    liveFollowup(database, name, [
      { kind: 'waitFor', id: 'wait', amount: 2, unit: 'days' },
      ...Array.from({ length: 10 }, (_, i) => ({
        kind: 'branch' as const,
        id: `b${i}`,
        arms: Array.from({ length: 4 }, (__, n) => ({
          label: `Part ${n}`,
          when: {
            kind: 'all' as const,
            of: [
              ...asks,
              { kind: 'state' as const, is: [n % 2 === 0 ? ('bounced' as const) : ('complained' as const)] },
            ],
          },
          steps: [],
        })),
        otherwise: { label: 'Others', steps: [] },
      })),
    ])
  // So many that the last batch, which one of two has for itself, is a small part.
  const people = 20_000
  const times: Record<1 | 2, number[]> = { 1: [], 2: [] }
  for (const round of [1, 2])
    for (const workers of [1, 2] as const) {
      const id = await busy(`Busy ${round} ${workers}`)
      const started = Array.from({ length: workers }, startAdvancer)
      // Both are there, and warm, before anybody is due.
      await standOn(database, id, {
        step: 'wait',
        due: `now() + interval '6 seconds'`,
        from: 0,
        count: people,
      })
      const due = await database.row<{ at: Date }>(
        'select min(wakes_at) at from enrolment where followup_id = $1 and ended_at is null',
        [id],
      )
      await new Promise((next) => setTimeout(next, Math.max(0, (due?.at.getTime() ?? 0) - Date.now())))
      const begun = performance.now()
      await untilAllLeft(database, id)
      times[workers].push(performance.now() - begun)
      for (const each of started) await each.stop()
    }
  const ratio = Math.min(...times[1]) / Math.min(...times[2])
  const figures = { two_workers_ratio: round(ratio, 2) }
  return {
    figures,
    lines: [
      {
        what: `${people} people through ten branches of eight hundred questions, two workers beside one`,
        ours: `${figures.two_workers_ratio} times`,
        yardstick: `${round(Math.min(...times[1]) / 1_000)} s and ${round(Math.min(...times[2]) / 1_000)} s`,
      },
    ],
  }
}

/** People let in at once, as a bulk action or a segment does. */
async function measureStart({ database, platform, email }: On): Promise<Found> {
  const id = await liveFollowup(database, 'Start', [
    { kind: 'send', id: 'mail', email },
    { kind: 'waitFor', id: 'wait', amount: 2, unit: 'days' },
  ])
  const people = await database.rows<{ id: number }>(
    `select id from contact where address_key like 'reader%' order by id limit $1`,
    [many],
  )
  const begun = performance.now()
  await database.inTransaction((tx) =>
    enrolManually(
      platform,
      tx,
      id,
      people.map((each) => each.id),
      'bench',
    ),
  )
  const figures = { start_100k_s: round((performance.now() - begun) / 1_000) }
  await database.rows(`update followup set state = 'paused' where id = $1`, [id])
  return { figures, lines: [{ what: `${many} people let in at once`, ours: `${figures.start_100k_s} s` }] }
}

/** A million wait for what they do; so many do it each second. */
async function measureWake({ database }: On): Promise<Found> {
  const before = await database.row<{ count: number }>(
    `select count(*)::int count from contact where address_key like 'reader%'`,
  )
  await addPeople(database, before?.count ?? 0, waiting - (before?.count ?? 0))
  const id = await liveFollowup(database, 'Wake', [
    {
      kind: 'waitUntil',
      id: 'wait',
      when: { kind: 'did', activity: 'fileDownloaded', details: { file: 1 }, atLeast: 1 },
      atMost: { amount: 30, unit: 'days' },
      happened: { label: 'Did', steps: [] },
      otherwise: { label: 'Did not', steps: [] },
    },
  ])
  await standOn(database, id, { step: 'wait', due: `now() + interval '30 days'`, from: 0, count: waiting })
  await database.rows('vacuum analyze enrolment')
  const people = await database.rows<{ contact: number }>(
    'select contact_id contact from enrolment where followup_id = $1 order by md5(id::text) limit $2',
    [id, load.perSecond * load.seconds],
  )
  const worker = startAdvancer()
  await new Promise((next) => setTimeout(next, 3_000))
  const used = await databaseSeconds()
  const begun = performance.now()
  const perTransaction = load.aTransaction
  const sending: Promise<void>[] = []
  for (let sent = 0; sent < people.length;) {
    const due = Math.min(people.length, Math.floor(((performance.now() - begun) / 1_000) * load.perSecond))
    for (; sent + perTransaction <= due; sent += perTransaction) {
      const some = people.slice(sent, sent + perTransaction)
      sending.push(
        database.inTransaction((tx) =>
          recordActivities(
            tx,
            some.map(({ contact }) => ({
              contact,
              kind: 'fileDownloaded' as const,
              at: Date.now(),
              details: { file: 1 },
            })),
          ),
        ),
      )
    }
    await new Promise((next) => setTimeout(next, 5))
    if (due === people.length) break
  }
  await Promise.all(sending)
  const took = (performance.now() - begun) / 1_000
  const cores = ((await databaseSeconds()) - used) / took
  await untilDone(database, id)
  await worker.stop()
  const woken = await database.rows<{ late: number }>(
    `select (extract(epoch from decision.at - activity.at) * 1000)::float8 late from decision
     join enrolment on enrolment.id = enrolment_id and followup_id = $1
     join activity on activity.contact_id = enrolment.contact_id and activity.kind = 'fileDownloaded'
     where decision.outcome = 'took'`,
    [id],
  )
  const wanted = sending.length * perTransaction
  if (woken.length !== wanted) throw new Error(`${woken.length} of ${wanted} were woken`)
  const late = woken.map((each) => each.late)
  const figures = { wake_p99_ms: round(quantile(late, 0.99), 0), database_cores: round(cores, 2) }
  return {
    figures,
    lines: [
      {
        what: `woken by what they did, of ${waiting} who wait, at ${round(wanted / took, 0)} a second: 99 of 100 within`,
        ours: `${figures.wake_p99_ms} ms`,
        yardstick: `median ${round(quantile(late, 0.5), 0)} ms`,
      },
      { what: 'cores that the database used meanwhile', ours: String(figures.database_cores) },
    ],
  }
}

/** A worker killed at random while many move; their journals are held against those of an undisturbed run. */
async function measureKills({ database, email }: On): Promise<Found> {
  const steps = () => [
    { kind: 'waitFor' as const, id: 'wait', amount: 2, unit: 'days' as const },
    { kind: 'send' as const, id: 'mail', email },
    {
      kind: 'split' as const,
      id: 'split',
      shares: [
        { label: 'A', share: 50, steps: [{ kind: 'addTag' as const, id: 'tag', tag: 1 }] },
        {
          label: 'B',
          share: 50,
          steps: [
            {
              kind: 'startDeadline' as const,
              id: 'deadline',
              offer: 'bench',
              lasts: { amount: 1, unit: 'days' as const },
            },
          ],
        },
      ],
    },
    { kind: 'waitFor' as const, id: 'second', amount: 1, unit: 'minutes' as const },
    { kind: 'send' as const, id: 'last', email },
  ]
  // Placed by one and the same: who stands where in the split is drawn from the follow-up's own number.
  const id = await liveFollowup(database, 'Killed', steps())
  await standOn(database, id, {
    step: 'wait',
    due: `now() - interval '1 second' + (random() * interval '90 seconds')`,
    from: 0,
    count: killed.people,
  })
  const end = performance.now() + killed.seconds * 1_000
  let kills = 0
  while (performance.now() < end) {
    const worker = startAdvancer()
    await new Promise((next) => setTimeout(next, 1_500 + Math.random() * 3_500))
    await worker.kill()
    kills += 1
  }
  const worker = startAdvancer()
  await untilDone(database, id)
  await new Promise((next) => setTimeout(next, 65_000))
  await untilDone(database, id)
  await worker.stop()
  const journals = await database.rows<{ steps: string; people: number }>(
    `select steps, count(*)::int people from (
       select enrolment.id, string_agg(decision.step || ' ' || outcome, ', ' order by decision.id) steps
       from enrolment left join decision on enrolment_id = enrolment.id where followup_id = $1 group by 1) each
     group by 1 order by 2 desc`,
    [id],
  )
  // An undisturbed run takes each of two ways.
  const ways = [
    'mail sent, split took, tag tagged, second waits, last sent, last left',
    'mail sent, split took, deadline did, second waits, last sent, last left',
    'mail sent, split took, tag skipped, second waits, last sent, last left',
  ]
  const whole = journals
    .filter(({ steps: way }) => ways.includes(way))
    .reduce((sum, { people }) => sum + people, 0)
  const mail = await database.row<{ count: number; steps: number }>(
    `select count(*)::int count, count(distinct (enrolment_id, message.step))::int steps from message
     join enrolment on enrolment.id = enrolment_id where followup_id = $1`,
    [id],
  )
  const figures = {
    kill_lost: killed.people - whole,
    kill_doubled:
      (mail?.count ?? 0) - (mail?.steps ?? 0) + Math.max(0, (mail?.count ?? 0) - 2 * killed.people),
  }
  return {
    figures,
    lines: [
      {
        what: `journals of ${killed.people} that differ from an undisturbed run, the worker killed ${kills} times`,
        ours: String(figures.kill_lost),
      },
      { what: 'emails doubled', ours: String(figures.kill_doubled) },
    ],
  }
}

/** In this order: the list grows for the last ones. */
const parts: Readonly<Record<string, (on: On) => Promise<Found>>> = {
  advance: measureAdvance,
  workers: measureTwoWorkers,
  start: measureStart,
  kills: measureKills,
  wake: measureWake,
}

/**
 * Follow-ups: how fast people move, start and wake, and what becomes of them when a worker is killed.
 * @param asked the parts that are wanted; all without any
 */
export async function followups(asked: string[]): Promise<void> {
  const demo = await startDemo(env)
  const found: Found[] = []
  if (asked.length === 0 || asked.includes('screens')) found.push(await measureScreens(demo.url))
  await demo.stop()
  const settings = readSettings({ ...process.env, ...env })
  const database = connect(settings.databaseUrl, { connections: 6 })
  defineModels(database)
  const platform = {
    database,
    clock: systemClock,
    signer: createSigner(settings.secret),
    settings,
    log: pino({ level: 'silent' }),
  }
  try {
    await database.rows(`delete from message where state = 'queued'`)
    await database.rows('update followup set state = $1', ['paused'])
    await addPeople(database, 0, many)
    const email = await database.row<{ id: number }>(`select id from email where name = 'Did you find it?'`)
    const on: On = { database, platform, email: email?.id ?? 0, url: demo.url }
    for (const [name, measure] of Object.entries(parts)) {
      if (asked.length > 0 && !asked.includes(name)) continue
      // What the part before left behind is not tidied while this one is measured.
      await database.rows('vacuum analyze')
      found.push(await measure(on))
    }
    report(
      'followups',
      found.flatMap(({ lines }) => lines),
      Object.assign({}, ...found.map(({ figures }) => figures)) as Record<string, number>,
    )
  } finally {
    await database.close()
  }
}
