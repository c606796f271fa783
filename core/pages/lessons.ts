import { DateTime } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import type { LessonOpens } from './page.ts'

/** A lesson of a course, in its order. */
export interface Lesson {
  page: number
  title: string
  opens: LessonOpens
}

/** What is known of somebody who takes a course; a stranger has seen nothing. */
export interface Learner {
  /** When they saw which lesson first. */
  seen: ReadonlyMap<number, Instant>
  /** IANA zone in which their days are counted and told. */
  zone: string
}

export type LessonState = { page: number; title: string } & (
  | { is: 'open' | 'done' }
  /** `at` is null where it depends on what they do first. */
  | { is: 'locked'; at: Instant | null; words: string }
)

/** The day, and the hour where it is not the first of it. */
function dayOf(at: Instant, zone: string): string {
  const there = DateTime.fromMillis(at, { zone }).setLocale('en-GB')
  const isWhole = there.toMillis() === there.startOf('day').toMillis()
  return there.toFormat(isWhole ? 'cccc d LLLL' : "cccc d LLLL 'at' HH:mm")
}

/**
 * When a lesson opens for somebody: a moment, `now` or earlier when it is open, or null where it waits for them.
 * Days are those of the calendar in the learner's zone: "two days later" begins with that day, so that an email which
 * goes out in its morning finds the lesson open; a date begins in the zone of the business.
 */
export function opensAt(
  opens: LessonOpens,
  learner: Learner & { beganAt: Instant | null },
  previous: Lesson | undefined,
  businessZone: string,
): Instant | null {
  switch (opens.when) {
    case 'atOnce':
      return Number.NEGATIVE_INFINITY
    case 'daysAfterStart':
      return learner.beganAt === null
        ? null
        : DateTime.fromMillis(learner.beganAt, { zone: learner.zone })
            .plus({ days: opens.days })
            .startOf('day')
            .toMillis()
    case 'date':
      return DateTime.fromISO(opens.date, { zone: businessZone }).toMillis()
    case 'previousSeen':
      return previous ? (learner.seen.get(previous.page) ?? null) : Number.NEGATIVE_INFINITY
  }
}

function waitWords(opens: LessonOpens, previous: Lesson | undefined): string {
  if (opens.when === 'daysAfterStart')
    return `opens ${opens.days === 1 ? 'a day' : `${opens.days} days`} after you begin`
  return previous ? `opens when you have seen “${previous.title}”` : 'not open yet'
}

/** The lessons of a course as one person finds them now, in the order of the course. */
export function lessonStates(
  lessons: readonly Lesson[],
  learner: Learner,
  now: Instant,
  businessZone: string,
): LessonState[] {
  const looks = lessons.flatMap(({ page }) => learner.seen.get(page) ?? [])
  const taking = { ...learner, beganAt: looks.length > 0 ? Math.min(...looks) : null }
  return lessons.map((lesson, i) => {
    const { page, title, opens } = lesson
    const previous = lessons[i - 1]
    const at = opensAt(opens, taking, previous, businessZone)
    if (at !== null && at <= now) return { page, title, is: learner.seen.has(page) ? 'done' : 'open' }
    const words = at === null ? waitWords(opens, previous) : `opens ${dayOf(at, learner.zone)}`
    return { page, title, is: 'locked', at, words }
  })
}
