import type { Condition } from '../../core/audience/segments/condition.ts'
import { evaluate } from '../../core/audience/segments/evaluate.ts'
import { stranger, type Person } from '../../core/audience/people/person.ts'
import type { KnownReader } from '../../core/capture/shownForm.ts'
import type { Learner } from '../../core/pages/lessons.ts'
import type { PageContent } from '../../core/pages/page.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import { activityKindsIn, loadPeople } from '../audience/people/personFacts.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { PersonalDeadlines } from '../commerce/deadlines.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'

/** A mark by which somebody is known is good for so long. */
const markLasts = 180 * 86_400_000

/** The mark that links of our emails carry: who holds it reads pages as that person. */
export const readerMark = (platform: Platform, contact: number): string =>
  platform.signer.sign('reader', [contact, platform.clock.now()])

/** So long a browser counts as that of the person whose form it sent. */
const formMarkLasts = 3_600_000

/**
 * The mark for the browser whose form has just put somebody on the list. Anybody may have typed their address, so it
 * is good for an hour, and only until the person themselves has followed a link of their mail.
 */
export const formMark = (platform: Platform, contact: number): string =>
  platform.signer.sign('form reader', [contact, platform.clock.now()])

/** The contact of a mark; null when it was not made here or is too old. */
export async function contactOfMark(
  { signer, clock, database }: Platform,
  mark: string | undefined,
): Promise<number | null> {
  if (mark === undefined) return null
  const opened = signer.open('reader', mark)
  const byForm = opened ? null : signer.open('form reader', mark)
  const [contact, madeAt] = (opened ?? byForm ?? []).map(Number)
  if (!contact || madeAt === undefined) return null
  if (clock.now() - madeAt >= (byForm ? formMarkLasts : markLasts)) return null
  const acted =
    byForm &&
    (await database.row(
      `select from activity where contact_id = $1 and kind in ('emailClicked', 'addressConfirmed', 'fileDownloaded') limit 1`,
      [contact],
    ))
  return acted ? null : contact
}

/** Was the mark that of a link in somebody's own mail? Who holds it acts as that person. */
export const isOwnMark = ({ signer }: Platform, mark: string | undefined): boolean =>
  mark !== undefined && signer.open('reader', mark) !== null

/** What a page may say to who reads it, and show them. */
export interface Reader {
  contact: number | null
  /** Made-up people are not counted. */
  rehearsal: boolean
  /** On their own clock: the business's, but in rehearsal. */
  now: number
  known: KnownReader | null
  shows: (people: Condition) => boolean
  learner: Learner
  /** Courses that they bought. */
  courses: ReadonlySet<number>
  /** When their personal deadlines are over, by name. */
  deadlines: PersonalDeadlines
}

/** Somebody of whom nothing is known, and who asks for nothing that depends on it. */
export const unknownReader = ({ clock }: Platform, zone: string): Reader => ({
  contact: null,
  rehearsal: false,
  now: clock.now(),
  known: null,
  shows: () => false,
  learner: { seen: new Map(), zone },
  courses: new Set(),
  deadlines: {},
})

/** The conditions of a page: of the whole, its sections and blocks. */
export function conditionsOf({
  limitedTo,
  document,
}: Pick<PageContent, 'limitedTo' | 'document'>): Condition[] {
  const parts = document.sections.flatMap((section) => [
    section,
    ...section.columns.flatMap(({ blocks }) => blocks),
  ])
  return [...parts.flatMap(({ shownTo }) => shownTo?.people ?? []), ...(limitedTo ? [limitedTo.people] : [])]
}

async function learnerOf(q: Queries, contact: number, zone: string): Promise<Learner> {
  const seen = await q.rows<{ page: number; at: number }>(
    `select page_id page, floor(extract(epoch from at) * 1000)::bigint at from lesson_seen
     where contact_id = $1`,
    [contact],
  )
  return { seen: new Map(seen.map(({ page, at }) => [page, at])), zone }
}

/** The courses that somebody has bought. */
const boughtCourses = async (q: Queries, contact: number): Promise<Set<number>> =>
  new Set(
    (
      await q.rows<{ id: number }>(
        'select course_id id from course_learner where contact_id = $1 and bought_at is not null',
        [contact],
      )
    ).map(({ id }) => id),
  )

/**
 * Who reads a page.
 * @param contact who they are known to be; a stranger when null
 * @param zone of the business, for who has none of their own
 */
export async function loadReader(
  platform: Platform,
  contact: number | null,
  conditions: readonly Condition[],
  zone: string,
): Promise<Reader> {
  const { database: q, clock } = platform
  const unknown = unknownReader(platform, zone)
  // A stranger on a page that asks nothing costs the database nothing.
  if (contact === null && conditions.length === 0) return unknown
  const known = contact === null ? undefined : await survivorOf(q, contact)
  const now = known ? personNow(clock, known) : unknown.now
  const context = await loadContext(q, conditions)
  const kinds = activityKindsIn(conditions, context.segments)
  const person: Person | undefined = known && (await loadPeople(q, [known.id], kinds)).get(known.id)
  const own = person?.builtIn.zone
  return {
    contact: known?.id ?? null,
    rehearsal: known?.rehearsal ?? false,
    now,
    known:
      known && person ? { builtIn: person.builtIn, own: person.fields, rehearsal: known.rehearsal } : null,
    // What nobody can tell, since it speaks of something that is gone, is not shown.
    shows: (people) => evaluate(people, person ?? stranger, { ...context, now }).holds === true,
    learner: known ? await learnerOf(q, known.id, own ?? zone) : unknown.learner,
    courses: known ? await boughtCourses(q, known.id) : unknown.courses,
    deadlines: person?.deadlines ?? {},
  }
}
