import { choose, type Choice } from '../../core/junctions/choosing.ts'
import { otherwise } from '../../core/junctions/junction.ts'
import type { ActivityKind } from '../../core/audience/people/activity.ts'
import type { ConditionContext } from '../../core/audience/segments/evaluate.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import { activityKindsIn, loadPeople, partsAskedBy, type PersonPart } from '../audience/people/personFacts.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Platform } from '../platform.ts'
import type { PublishedJunction } from './publishedJunctions.ts'

/** Segments, scorecards and names that rules speak of are read again after so long (ms). */
const contextLasts = 1_000

/** What the questions of a junction rest on besides the person. */
interface Asked {
  context: ConditionContext
  kinds: readonly ActivityKind[]
  parts: ReadonlySet<PersonPart>
}

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

/** Keeps what junctions ask for a second, so that a crowd costs a look at each person and no more. */
export function openJunctionDesk({ database, clock }: Pick<Platform, 'database' | 'clock'>): JunctionDesk {
  const kept = new WeakMap<PublishedJunction, { at: number; asked: Promise<Asked> }>()

  async function ask({ content }: PublishedJunction): Promise<Asked> {
    const conditions = content.rules.map(({ when }) => when)
    const context = await loadContext(database, conditions)
    return {
      context,
      kinds: activityKindsIn(conditions, context.segments),
      parts: partsAskedBy(conditions, context.segments),
    }
  }

  function askedOf(junction: PublishedJunction): Promise<Asked> {
    const known = kept.get(junction)
    if (known && clock.now() - known.at < contextLasts) return known.asked
    const asked = ask(junction)
    kept.set(junction, { at: clock.now(), asked })
    // What failed is asked again.
    asked.catch(() => kept.delete(junction))
    return asked
  }

  return {
    async decide(junction, id) {
      const [who, { context, kinds, parts }] = await Promise.all([
        survivorOf(database, id),
        askedOf(junction),
      ])
      if (!who) return null
      const { content } = junction
      if (content.rules.length === 0)
        return { ...choiceOtherwise(junction), contact: who.id, rehearsal: who.rehearsal }
      const person = (await loadPeople(database, [who.id], kinds, parts)).get(who.id)
      if (!person) return null
      const choice = choose(content, person, { ...context, now: personNow(clock, who) })
      return { ...choice, contact: who.id, rehearsal: who.rehearsal }
    },
  }
}

/** Where visitors go whom nobody knows, or whom no rule takes. */
export const choiceOtherwise = ({ content }: PublishedJunction): Choice => ({
  rule: otherwise,
  target: content.otherwise,
  reason: 'no rule took them',
})
