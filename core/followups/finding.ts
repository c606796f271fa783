import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import type { Purpose } from '../audience/people/permission.ts'
import type { Condition } from '../audience/segments/condition.ts'
import type { Names } from '../audience/segments/names.ts'
import type { Program } from './program.ts'

/** How something that is found may be put right with one press. */
export const mend = z.discriminatedUnion('does', [
  z.object({ does: z.literal('publishEmail'), email: z.number().int() }),
  z.object({ does: z.literal('removeStep'), step: z.string() }),
  z.object({ does: z.literal('leaveAtPurchase') }),
])
export type Mend = z.infer<typeof mend>

/** Something that would go wrong, or could be better, were a follow-up live. */
export interface Finding {
  level: 'error' | 'advice'
  words: string
  /** The step that it is about; null for the follow-up as a whole. */
  part: string | null
  mend?: Mend
}

/** What the check knows of an email. */
export interface CheckedEmail {
  state: 'draft' | 'live' | 'archived'
  isEmpty: boolean
  purpose: Purpose
  /** It offers something to buy. */
  sells: boolean
  /** What its own checks found that keeps it from going out. */
  faults: readonly string[]
  /** Links that lead to what is not live, in words. */
  deadLinks: readonly string[]
}

/** What a follow-up is checked against. */
export interface CheckContext {
  id: number
  names: Names
  segments: Readonly<Record<number, Condition>>
  emails: Readonly<Record<number, CheckedEmail>>
  /** Forms, products or other follow-ups start it by themselves. */
  startedElsewhere: boolean
  /** Personal deadlines of the Library, and the coupons of which people get codes of their own. */
  deadlines: ReadonlySet<string>
  coupons: ReadonlySet<string>
  others: readonly OtherFollowup[]
  /** Marketing emails a person and week that the business allows. */
  aWeek: number
  now: Instant
}

/** Another follow-up that runs. */
export interface OtherFollowup {
  id: number
  name: string
  program: Program
}
