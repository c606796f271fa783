import { DateTime } from 'luxon'
import type { Arrival, NeedsAHand, TodayView } from '../../contract/today.ts'
import type { ClockStrip } from '../../contract/workspace.ts'
import { moneyBetween } from '../commerce/moneyIn.ts'
import { leavingBroadcasts, plannedDepartures } from '../email/broadcasts/listing.ts'
import { nextDeparture, recentDepartures, upcomingDepartures } from '../followups/departures.ts'
import { listSetAside, type SetAside } from '../followups/setAside.ts'
import { listFaultyFunnels, type FaultyFunnel } from '../funnels/listing.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import { countWorkers } from '../workspace/health.ts'

const arrivalsShown = 25

async function arrivals(platform: Platform): Promise<Arrival[]> {
  const rows = await platform.database.rows<Omit<Arrival, 'at'> & { at: Date }>(
    `select c.created_at at, c.id contact, trim(first_name || ' ' || last_name) name, address,
       coalesce((select page.name from activity left join page on page.id = (details->>'page')::bigint
         where contact_id = c.id and kind = 'formSent' order by at limit 1),
         case when import_id is null then 'added manually' else 'an import' end) "cameBy",
       (select tag.name from contact_tag join tag on tag.id = tag_id
         where contact_id = c.id order by added_at, tag.id limit 1) "firstTag"
     from (select * from contact where not rehearsal order by created_at desc, id desc limit ${arrivalsShown}) c
     order by c.created_at desc, c.id desc`,
  )
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }))
}

/** Messages that are looked at of a long queue: more would tell no more of its state. */
const mostLookedAt = 10_000

interface Mail {
  waiting: number
  stuck: number
  failed: number
  problem: string | null
}

/** `stuck`: tried at least once and not taken. `failed`: given up within the last day. */
async function mailState(platform: Platform): Promise<Mail> {
  const state = await platform.database.row<Mail>(
    `select count(*) filter (where state = 'queued' and (due_at <= $2 or attempts > 0)) waiting,
       count(*) filter (where state = 'queued' and attempts > 0) stuck,
       count(*) filter (where state = 'failed' and queued_at > $1) failed,
       max(problem) filter (where state = 'queued') problem
     from (
       (select state, attempts, problem, queued_at, due_at from message where state = 'queued'
         order by queued_at desc limit ${mostLookedAt})
       union all (select state, attempts, problem, queued_at, due_at from message where state = 'failed' and queued_at > $1
         order by queued_at desc limit ${mostLookedAt})) message`,
    [new Date(platform.clock.now() - 24 * 3_600_000), new Date(platform.clock.now())],
  )
  return state ?? { waiting: 0, stuck: 0, failed: 0, problem: null }
}

const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`

function handsNeeded(
  mail: Mail,
  workers: number,
  setAside: readonly SetAside[],
  faulty: readonly FaultyFunnel[],
): NeedsAHand[] {
  const list: NeedsAHand[] = setAside.map(({ followup, name, people, problem }) => ({
    what: `${counted(people, 'person is', 'people are')} stuck in “${name}”: ${problem}`,
    doing: 'Everyone else continues. Fix the cause, then try again.',
    to: `/follow-ups/${followup}`,
    retry: followup,
  }))
  for (const { id, name, faults } of faulty)
    list.push({
      what: `The funnel “${name}” has ${counted(faults, 'fault', 'faults')} while it is live`,
      doing: 'Its visitors may not get where they should. See what it is, and mend it.',
      to: `/funnels/${id}?check`,
      retry: null,
    })
  if (workers === 0)
    list.push({
      what: 'No worker is running, so nothing departs',
      doing: 'Everything waits in the queue and nothing is lost. Start a worker with: nurtel work',
      to: '/outbox',
      retry: null,
    })
  if (mail.stuck > 0)
    list.push({
      what: `${counted(mail.stuck, 'email waits', 'emails wait')}: ${mail.problem ?? 'not taken'}`,
      doing:
        'Each is retried automatically, with longer and longer pauses. Check that the mail server is running.',
      to: '/outbox?show=queue',
      retry: null,
    })
  if (mail.failed > 0)
    list.push({
      what: `${counted(mail.failed, 'email was', 'emails were')} permanently rejected since yesterday`,
      doing: 'See the reasons: a wrong address, or a mail server that rejects this email.',
      to: '/outbox?show=problems',
      retry: null,
    })
  return list
}

/** The first screen: what comes in, what goes out next, what is wrong. */
export async function viewToday(platform: Platform): Promise<TodayView> {
  const business = await getBusiness(platform.database)
  const now = platform.clock.now()
  const midnight = DateTime.fromMillis(now, { zone: business.zone }).startOf('day')
  const [gone, leaving, coming, planned, came, mail, workers, setAside, faulty, counts] = await Promise.all([
    recentDepartures(platform),
    leavingBroadcasts(platform),
    upcomingDepartures(platform),
    plannedDepartures(platform),
    arrivals(platform),
    mailState(platform),
    countWorkers(platform),
    listSetAside(platform.database),
    listFaultyFunnels(platform.database),
    platform.database.row<{ today: number; month: number }>(
      `select count(*) filter (where created_at >= $1) today, count(*) "month"
       from contact where not rehearsal and created_at >= $2`,
      [midnight.toJSDate(), midnight.minus({ days: 29 }).toJSDate()],
    ),
  ])
  const [today, month] = await Promise.all([
    moneyBetween(platform.database, midnight.toJSDate(), new Date(now + 1)),
    moneyBetween(platform.database, midnight.minus({ days: 29 }).toJSDate(), new Date(now + 1)),
  ])
  return {
    now: new Date(now).toISOString(),
    zone: business.zone,
    departures: [...gone, ...leaving, ...[...coming, ...planned].sort((a, b) => a.at.localeCompare(b.at))],
    arrivals: came,
    arrivedToday: counts?.today ?? 0,
    arrived30Days: counts?.month ?? 0,
    money: month.orders > 0 || today.orders > 0 ? { today, month } : null,
    needsAHand: handsNeeded(mail, workers, setAside, faulty),
  }
}

/** The bar along the bottom of every screen. */
export async function viewClockStrip(platform: Platform): Promise<ClockStrip> {
  const business = await getBusiness(platform.database)
  const [leaving, coming, [planned], mail, workers] = await Promise.all([
    leavingBroadcasts(platform),
    nextDeparture(platform),
    plannedDepartures(platform),
    mailState(platform),
    countWorkers(platform),
  ])
  const soonest = planned && (!coming || planned.at < coming.at) ? planned : coming
  const next = leaving[0] ?? soonest
  return {
    now: new Date(platform.clock.now()).toISOString(),
    zone: business.zone,
    nextDeparture: next ? { at: next.at, people: next.people, what: next.what } : null,
    sender: {
      state: mail.stuck > 0 ? 'stopped' : mail.waiting > 0 ? 'waiting' : 'clear',
      waiting: mail.waiting,
    },
    workers,
  }
}
