import { DateTime } from 'luxon'
import { chanceFrom } from '../chance.ts'
import type { Instant } from '../audience/people/activity.ts'
import type { Behaviour } from './behaviour.ts'
import { emailsOf } from './crowding.ts'
import type { Facts } from './enrolment.ts'
import { isDecision, rehearse, type Rehearsed } from './rehearsal.ts'

/** Thousands of people as a list usually is. */
export interface ForecastRequest {
  followups: readonly Rehearsed[]
  first: number
  facts: Facts
  /** How people behave, of a hundred, and in how many days of a hundred somebody buys within the time. */
  rates: { opens: number; clicks: number; buys: number }
  people: number
  /** They come in evenly over so many days. */
  days: number
  start: Instant
  /** The same seed gives the same forecast. */
  seed: number
}

/** A figure with the range in which nine of ten runs of the same size lie. */
export interface Range {
  expected: number
  low: number
  high: number
}

export interface Forecast {
  days: { day: string; emails: number }[]
  emails: Range
  opened: Range
  clicked: Range
  orders: Range
  finished: Range
}

const day = 86_400_000
/** People are followed for so long after they came in. */
const followed = 60
/** Groups of people whose spread tells the range of the whole. */
const groups = 20

/** The range of a sum from equal groups of it: normal, nine of ten (1.645 standard deviations; handbook table). */
function rangeOf(sums: readonly number[]): Range {
  const expected = sums.reduce((sum, each) => sum + each, 0)
  const mean = expected / sums.length
  const variance = sums.reduce((sum, each) => sum + (each - mean) ** 2, 0) / Math.max(1, sums.length - 1)
  const spread = 1.645 * Math.sqrt(variance * sums.length)
  return {
    expected,
    low: Math.max(0, Math.round(expected - spread)),
    high: Math.round(expected + spread),
  }
}

/**
 * What comes of a follow-up for many people, by the engine itself.
 * @param report told how many are done; when it says no, the forecast is left as it is
 * @returns null when it was cancelled
 */
export function forecast(request: ForecastRequest, report: (done: number) => boolean): Forecast | null {
  const { followups, first, facts, rates, people, days, start, seed } = request
  const zone = followups.find(({ id }) => id === first)?.program.zone ?? 'UTC'
  const chance = chanceFrom(seed)
  const perDay = new Map<string, number>()
  const sums = {
    emails: [] as number[],
    opened: [] as number[],
    clicked: [] as number[],
    orders: [] as number[],
    finished: [] as number[],
  }
  for (const list of Object.values(sums)) for (let i = 0; i < groups; i += 1) list.push(0)
  const add = (what: keyof typeof sums, group: number, times: number): void => {
    sums[what][group] = (sums[what][group] ?? 0) + times
  }
  for (let i = 0; i < people; i += 1) {
    if (i % 100 === 0 && !report(i)) return null
    const group = i % groups
    const from = start + Math.floor(chance.next() * days * day)
    const buys = chance.next() * 100 < rates.buys
    const behaviour: Behaviour = {
      opens: rates.opens,
      clicks: rates.clicks,
      opensAfter: 10 + Math.floor(chance.next() * 24 * 60),
      does: buys
        ? [
            {
              does: { kind: 'productBought' },
              after: {
                what: 'start',
                span: { amount: 1 + Math.floor(chance.next() * 14 * 24), unit: 'hours' },
              },
            },
          ]
        : [],
    }
    const lines = rehearse({
      followups,
      first,
      facts: { ...facts, seed: `${seed} ${i}` },
      behaviour,
      start: from,
      until: from + followed * day,
    })
    const emails = emailsOf(lines)
    for (const { at } of emails) {
      const key = DateTime.fromMillis(at, { zone }).toISODate() ?? ''
      perDay.set(key, (perDay.get(key) ?? 0) + 1)
    }
    const did = (kind: string): number =>
      lines.filter((line) => !isDecision(line) && line.did === kind).length
    add('emails', group, emails.length)
    add('opened', group, did('emailOpened'))
    add('clicked', group, did('emailClicked'))
    add('orders', group, did('productBought'))
    add(
      'finished',
      group,
      lines.some((line) => isDecision(line) && line.outcome === 'left' && line.followup === first) ? 1 : 0,
    )
  }
  report(people)
  return {
    days: [...perDay].sort(([a], [b]) => a.localeCompare(b)).map(([date, emails]) => ({ day: date, emails })),
    emails: rangeOf(sums.emails),
    opened: rangeOf(sums.opened),
    clicked: rangeOf(sums.clicked),
    orders: rangeOf(sums.orders),
    finished: rangeOf(sums.finished),
  }
}
