import type { ActivityKind } from '../../core/audience/people/activity.ts'
import type { ConditionContext } from '../../core/audience/segments/evaluate.ts'
import { choose, type Choice } from '../../core/junctions/choosing.ts'
import { otherwise } from '../../core/junctions/junction.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import { activityKindsIn, loadPeople, partsAskedBy, type PersonPart } from '../audience/people/personFacts.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Platform } from '../platform.ts'
import type { PublishedJunction } from './publishedJunctions.ts'

/** Segments, scorecards and names that rules speak of are read again after so long (ms). */
const contextLasts = 1_000

/** People who are looked up by one statement at most. */
const mostAtOnce = 100

/** Somebody who is known, and where they are sent. */
export interface Decided extends Choice {
  contact: number
  rehearsal: boolean
}

/** Decides for one person after the other where a junction sends them. */
export interface JunctionDesk {
  /** @returns null when the person was erased */
  decide(junction: PublishedJunction, contact: number): Promise<Decided | null>
}

/** What the questions of a junction rest on besides the person. */
interface Asked {
  context: ConditionContext
  kinds: readonly ActivityKind[]
  parts: ReadonlySet<PersonPart>
}

interface Waiting {
  contact: number
  done: (decided: Decided | null) => void
  failed: (error: unknown) => void
}

/** Where visitors go whom nobody knows, or whom no rule takes. */
export const choiceOtherwise = ({ content }: PublishedJunction): Choice => ({
  rule: otherwise,
  target: content.otherwise,
  reason: 'no rule took them',
})

/** The desk of one junction, as it is published now. */
function openDesk({ database, clock }: Pick<Platform, 'database' | 'clock'>, { content }: PublishedJunction) {
  let kept: { at: number; asked: Promise<Asked> } | null = null
  const waiting: Waiting[] = []
  let isLooking = false

  async function ask(): Promise<Asked> {
    const conditions = content.rules.map(({ when }) => when)
    const context = await loadContext(database, conditions)
    return {
      context,
      kinds: activityKindsIn(conditions, context.segments),
      parts: partsAskedBy(conditions, context.segments),
    }
  }
  function askAgain(): Promise<Asked> {
    const mine = { at: clock.now(), asked: ask() }
    // What failed is asked again.
    mine.asked.catch(() => (kept = null))
    kept = mine
    return mine.asked
  }
  function asked(): Promise<Asked> {
    if (!kept) return askAgain()
    const { at, asked: known } = kept
    // Nobody waits for what is read again.
    if (clock.now() - at >= contextLasts) void askAgain().catch(() => undefined)
    return known
  }

  async function lookUp(contacts: readonly number[]): Promise<Map<number, Decided>> {
    const { context, kinds, parts } = await asked()
    const people = await loadPeople(database.prepared, contacts, kinds, parts)
    return new Map(
      [...people].map(([contact, person]) => {
        const now = personNow(clock, person)
        return [
          contact,
          { ...choose(content, person, { ...context, now }), contact, rehearsal: person.rehearsal },
        ]
      }),
    )
  }

  /** While some are looked up others gather, and are looked up together by the next statement. */
  async function work(): Promise<void> {
    if (isLooking) return
    isLooking = true
    while (waiting.length > 0) {
      const batch = waiting.splice(0, mostAtOnce)
      try {
        const decided = await lookUp([...new Set(batch.map(({ contact }) => contact))])
        for (const { contact, done } of batch) done(decided.get(contact) ?? null)
      } catch (error) {
        for (const { failed } of batch) failed(error)
      }
    }
    isLooking = false
  }

  return (contact: number): Promise<Decided | null> =>
    new Promise((done, failed) => {
      waiting.push({ contact, done, failed })
      void work()
    })
}

/**
 * Decides where junctions send people: what their rules speak of is kept for a second, and a crowd is looked up
 * together, so that one by itself waits for nobody and many cost little more.
 */
export function openJunctionDesk(platform: Pick<Platform, 'database' | 'clock'>): JunctionDesk {
  // A junction that is published again is another one.
  const desks = new WeakMap<PublishedJunction, ReturnType<typeof openDesk>>()
  return {
    async decide(junction, contact) {
      const desk = desks.get(junction) ?? openDesk(platform, junction)
      desks.set(junction, desk)
      const decided = await desk(contact)
      if (decided) return decided
      // Who was merged lives on in another.
      const survivor = await survivorOf(platform.database, contact)
      return survivor && survivor.id !== contact ? desk(survivor.id) : null
    },
  }
}
