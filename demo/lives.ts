import { DateTime } from 'luxon'
import type { Activity, Instant, Source } from '../core/audience/people/activity.ts'
import { advance, enrol, type Decision, type Enrolment, type Facts } from '../core/followups/advance.ts'
import type { Program } from '../core/followups/program.ts'
import type { Track } from '../core/followups/track.ts'
import type { MarketingState, Purpose } from '../core/audience/people/permission.ts'
import type { Names } from '../core/audience/segments/names.ts'
import { stranger } from '../core/audience/people/person.ts'
import { habitsOf, type Habits, type Shelf } from './habits.ts'
import { domains, firstNames, lastNames, places } from './cast.ts'
import type { Chance } from '../core/chance.ts'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour

/** What a life is lived in: the story's things by id. */
export interface Stage {
  page: number
  packTag: number
  file: number
  program: Program
  track: Track
  emails: Record<number, { purpose: Purpose; links: number[] }>
  names: Names
  shelf: Shelf
  consentWording: string
  consentSource: string
}

export interface SentEmail {
  email: number
  step: string
  purpose: Purpose
  at: Instant
}

/** One invented person with everything that happened to them until now. */
export interface Life {
  firstName: string
  lastName: string
  address: string
  country: string
  zone: string
  marketing: MarketingState
  createdAt: Instant
  tags: { tag: number; at: Instant; by: string }[]
  /** Without the ids of rows that do not exist yet: messages stand as their place in `sent`. */
  activities: Activity[]
  enrolment: Enrolment
  endedAt: Instant | null
  decisions: Decision[]
  sent: SentEmail[]
  source: Source
  topics: Habits['topics']
  fields: Habits['fields']
}

const sources = [
  [{}, 30],
  [{ utm_source: 'shelf-pictures', utm_medium: 'social', utm_campaign: 'spring-bench' }, 22],
  [{ utm_source: 'papercraft-forum', utm_medium: 'referral' }, 16],
  [{ utm_source: 'makers-letter', utm_medium: 'email', utm_campaign: 'guest-post' }, 14],
  [{ utm_source: 'search', utm_medium: 'organic' }, 18],
] as const

/** Moments of arrival: more in later months, on weekdays' evenings and on Sundays. */
export function arrivalTimes(chance: Chance, count: number, now: Instant, zone: string): Instant[] {
  const span = 425 * day
  const times: Instant[] = []
  while (times.length < count) {
    // The square root makes the density grow linearly from the first day to the last.
    const at = now - span * (1 - Math.sqrt(chance.next()))
    const local = DateTime.fromMillis(at, { zone })
    const byHour = local.hour < 7 ? 0.1 : local.hour < 17 ? 0.5 : 1
    const byDay = local.weekday === 7 ? 1 : local.weekday === 6 ? 0.7 : 0.6
    if (chance.flip(byHour * byDay)) times.push(Math.floor(at / 1000) * 1000)
  }
  return times.sort((a, b) => a - b)
}

/** How long after an email somebody clicks: most within a day, with a long tail. */
function clickDelay(chance: Chance): number {
  return 2 * minute + (chance.flip(0.8) ? chance.delay(6 * hour) : chance.delay(3 * day))
}

/** Lives one person's story with the real engine, from arrival to now. */
export function live(chance: Chance, stage: Stage, arrival: Instant, number: number, now: Instant): Life {
  const { country, zone } = chance.weighted(places)
  const firstName = chance.pick(firstNames)
  const lastName = chance.pick(lastNames)
  const source: Source = chance.weighted<Source>(sources)
  const tags: Life['tags'] = [{ tag: stage.packTag, at: arrival, by: 'form of Template pack' }]
  const activities: Activity[] = [
    { kind: 'contactAdded', at: arrival, details: { by: 'form' } },
    { kind: 'consentGiven', at: arrival, details: { source: stage.consentSource } },
    { kind: 'tagAdded', at: arrival, details: { tag: stage.packTag, by: 'form of Template pack' } },
    { kind: 'formSent', at: arrival, details: { page: stage.page, source } },
  ]
  const keen = chance.next()
  const sent: SentEmail[] = []
  const decisions: Decision[] = []
  let marketing: MarketingState = 'subscribed'
  let enrolment = enrol(stage.program, arrival)
  let endedAt: Instant | null = null
  let moment: Instant | null = arrival

  while (moment !== null && moment <= now) {
    const facts: Facts = {
      person: { ...stranger, marketing, tags: new Set(tags.map(({ tag }) => tag)), activities },
      emails: stage.emails,
      context: { names: stage.names, segments: {}, scorecards: {} },
    }
    const step = advance(stage.program, stage.track, enrolment, facts, moment)
    enrolment = step.enrolment
    decisions.push(...step.decisions)
    for (const effect of step.effects) {
      if (effect.kind === 'addTag') {
        tags.push({ tag: effect.tag, at: moment, by: 'follow-up' })
        activities.push({ kind: 'tagAdded', at: moment, details: { tag: effect.tag, by: 'follow-up' } })
        continue
      }
      const email = stage.emails[effect.email]
      const at = moment + 1000 + chance.below(3000)
      const message = sent.push({ ...effect, purpose: email?.purpose ?? 'marketing', at })
      if (chance.flip(0.008)) {
        marketing = 'bounced'
        activities.push({
          kind: 'emailFailed',
          at,
          details: { email: effect.email, message, reason: '5.1.1 No such mailbox' },
        })
        continue
      }
      activities.push({ kind: 'emailSent', at, details: { email: effect.email, message } })
      const clickedAt = at + clickDelay(chance)
      const link = email?.links[0]
      if (link !== undefined && chance.flip(0.25 + keen * 0.5) && clickedAt <= now) {
        activities.push({
          kind: 'emailClicked',
          at: clickedAt,
          details: { email: effect.email, message, link },
        })
        if (chance.flip(0.95))
          activities.push({ kind: 'fileDownloaded', at: clickedAt + 4000, details: { file: stage.file } })
      }
      if (email?.purpose === 'marketing' && chance.flip(0.03) && at + hour <= now) {
        marketing = chance.flip(0.06) ? 'complained' : 'unsubscribed'
        activities.push({ kind: 'unsubscribed', at: at + hour, details: { by: 'person', message } })
      }
    }
    if (enrolment.step === null) endedAt = moment
    moment = enrolment.dueAt
  }
  const life: Life = {
    firstName,
    lastName,
    address: `${firstName}.${lastName}.${number}@${chance.weighted(domains)}`.toLowerCase(),
    country,
    zone,
    marketing,
    createdAt: arrival,
    tags,
    activities: activities.sort((a, b) => a.at - b.at),
    enrolment,
    endedAt,
    decisions,
    sent,
    source,
    topics: [],
    fields: {},
  }
  const habits = habitsOf(chance, stage.shelf, life, keen, now)
  return {
    ...life,
    tags: [...life.tags, ...habits.tags],
    activities: [...life.activities, ...habits.activities].sort((a, b) => a.at - b.at),
    topics: habits.topics,
    fields: habits.fields,
  }
}
