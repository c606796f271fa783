import type { Activity, ActivityKind, Instant, Source } from '../core/audience/people/activity.ts'
import type { FieldValue } from '../core/audience/describing/field.ts'
import type { MarketingState, Purpose } from '../core/audience/people/permission.ts'
import type { Chance } from '../core/chance.ts'
import type { Decision, Enrolment } from '../core/followups/enrolment.ts'
import { domains, firstNames, lastNames, places } from './cast.ts'

/** Where people come from, by the link that they followed. */
const sources = [
  [{}, 30],
  [{ utm_source: 'shelf-pictures', utm_medium: 'social', utm_campaign: 'spring-bench' }, 22],
  [{ utm_source: 'papercraft-forum', utm_medium: 'referral' }, 16],
  [{ utm_source: 'makers-letter', utm_medium: 'email', utm_campaign: 'guest-post' }, 14],
  [{ utm_source: 'search', utm_medium: 'organic' }, 18],
] as const

/** Somebody's way through a follow-up until now. */
export interface Walk {
  followup: number
  enrolment: Enrolment
  endedAt: Instant | null
  decisions: Decision[]
}

export interface SentEmail {
  /** Place of the walk, of those of this person, by which it was sent. */
  walk: number
  email: number
  step: string
  purpose: Purpose
  at: Instant
}

/**
 * One invented person with everything that happened to them until now. Chapters add to it. Messages have no ids yet:
 * the details of activities name them by their place in `sent`, from 1.
 */
export class Person {
  readonly firstName: string
  readonly lastName: string
  readonly address: string
  readonly country: string
  readonly zone: string
  readonly source: Source
  /** How interested they are, from 0, hardly, to 1. */
  readonly keen: number
  marketing: MarketingState = 'subscribed'
  activities: Activity[] = []
  readonly tags: { tag: number; at: Instant; by: string }[] = []
  readonly topics: { topic: number; at: Instant }[] = []
  readonly fields: Record<number, FieldValue> = {}
  readonly consents: { wording: string; source: string; at: Instant }[] = []
  readonly walks: Walk[] = []
  readonly sent: SentEmail[] = []

  /**
   * @param number of the person, which makes the address one of its kind
   * @param now beyond it nothing has happened yet
   */
  constructor(
    readonly chance: Chance,
    readonly arrival: Instant,
    number: number,
    readonly now: Instant,
  ) {
    const { country, zone } = chance.weighted(places)
    this.country = country
    this.zone = zone
    this.firstName = chance.pick(firstNames)
    this.lastName = chance.pick(lastNames)
    this.source = chance.weighted<Source>(sources)
    this.address = `${this.firstName}.${this.lastName}.${number}@${chance.weighted(domains)}`.toLowerCase()
    this.keen = chance.next()
  }

  /** Adds what they did, unless it is still to come. @returns whether it has happened */
  did(activity: Activity): boolean {
    if (activity.at > this.now) return false
    this.activities.push(activity)
    return true
  }

  addTag(tag: number, at: Instant, by: string): void {
    this.tags.push({ tag, at, by })
    this.did({ kind: 'tagAdded', at, details: { tag, by } })
  }

  hasTag(tag: number): boolean {
    return this.tags.some((each) => each.tag === tag)
  }

  /** What they did of a kind. */
  all(kind: ActivityKind): Activity[] {
    return this.activities.filter((each) => each.kind === kind)
  }
}
