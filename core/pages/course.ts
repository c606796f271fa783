import { z } from 'zod'
import type { Condition } from '../audience/segments/condition.ts'
import { referenceId } from '../blocks/reference.ts'
import { nowhere, target } from '../blocks/target.ts'
import type { LessonState } from './lessons.ts'

/** Who may see the lessons of a course. */
export const courseAccess = z.discriminatedUnion('for', [
  z.strictObject({ for: z.literal('everybody') }),
  /** Who agreed to a topic; to any news of ours when it is null. */
  z.strictObject({ for: z.literal('subscribers'), topic: referenceId.nullable().default(null) }),
  /** Who bought something that brings it. */
  z.strictObject({ for: z.literal('buyers') }),
])
export type CourseAccess = z.infer<typeof courseAccess>

/** An ordered set of lessons, with who may see them and what others get. */
export const courseContent = z.strictObject({
  name: z.string().trim().min(1, 'Give the course a name').max(120),
  description: z.string().max(500).default(''),
  access: courseAccess.default({ for: 'everybody' }),
  /** Where others are led: to the offer. */
  others: target.default(nowhere),
})
export type CourseContent = z.infer<typeof courseContent>

/** The question that decides over subscribers; null where none is asked. */
export function accessCondition(access: CourseAccess): Condition | null {
  if (access.for !== 'subscribers') return null
  return access.topic === null
    ? { kind: 'state', is: ['subscribed'] }
    : { kind: 'topic', topic: access.topic }
}

/** Who asks to see a lesson. */
export interface Asking {
  hasBought: boolean
  shows: (people: Condition) => boolean
}

/** May somebody see the lessons of a course? */
export function maySee(access: CourseAccess, { hasBought, shows }: Asking): boolean {
  if (access.for === 'buyers') return hasBought
  const asked = accessCondition(access)
  return asked === null || hasBought || shows(asked)
}

/** How far somebody is in a course. */
export interface Progress {
  done: number
  of: number
  /** The lesson to go on with; null when there is none that is open. */
  next: { page: number; title: string } | null
}

/** @param states the lessons as they find them */
export function progressOf(states: readonly LessonState[]): Progress {
  const next = states.find(({ is }) => is === 'open') ?? null
  return {
    done: states.filter(({ is }) => is === 'done').length,
    of: states.length,
    next: next && { page: next.page, title: next.title },
  }
}
