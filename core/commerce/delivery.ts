import { z } from 'zod'
import {
  isActionOpen,
  personActions,
  topicActions,
  type KnownThings,
} from '../audience/people/personAction.ts'
import { referenceId } from '../blocks/reference.ts'
import { webAddress } from '../blocks/target.ts'

const one = referenceId.nullable().default(null)

/** What buyers get, or what is done with them. */
export const delivery = z.discriminatedUnion('does', [
  z.strictObject({ does: z.literal('sendFile'), file: one }),
  z.strictObject({ does: z.literal('openPage'), page: one }),
  z.strictObject({ does: z.literal('openCourse'), course: one }),
  z.strictObject({ does: z.literal('sendEmail'), email: one }),
  /** Something that is kept elsewhere. */
  z.strictObject({ does: z.literal('openAddress'), url: z.union([z.literal(''), webAddress]).default('') }),
  ...personActions,
  ...topicActions,
  z.strictObject({ does: z.literal('notifyTeam') }),
])
export type Delivery = z.infer<typeof delivery>

/** What products can bring, as it is now. */
export interface DeliverableThings extends KnownThings {
  files: ReadonlySet<number>
  livePages: ReadonlySet<number>
  /** Courses with a lesson that is live. */
  liveCourses: ReadonlySet<number>
  liveEmails: ReadonlySet<number>
}

/** Is nothing chosen for it, or something that is gone or not live? */
export function isDeliveryOpen(each: Delivery, known: DeliverableThings): boolean {
  const lacks = (id: number | null, things: ReadonlySet<number>): boolean => id === null || !things.has(id)
  switch (each.does) {
    case 'sendFile':
      return lacks(each.file, known.files)
    case 'openPage':
      return lacks(each.page, known.livePages)
    case 'openCourse':
      return lacks(each.course, known.liveCourses)
    case 'sendEmail':
      return lacks(each.email, known.liveEmails)
    case 'openAddress':
      return each.url === ''
    case 'notifyTeam':
      return false
    case 'joinTopic':
    case 'leaveTopic':
    case 'addTag':
    case 'removeTag':
    case 'setField':
    case 'startFollowup':
      return isActionOpen(each, known)
  }
}

/** What somebody gets who buys a product at one of its prices. */
export function broughtAt(
  {
    brings,
    prices,
  }: {
    brings: readonly Delivery[]
    prices: readonly { id: string; brings: Delivery[]; instead: boolean }[]
  },
  price: string,
): Delivery[] {
  // Of a product that is sold together with another the price is the other's: it brings what it always does.
  const at = prices.find(({ id }) => id === price)
  return [...(at?.instead ? [] : brings), ...(at?.brings ?? [])]
}

/** Somewhere that a buyer can go back to. */
export type Place = { page: number } | { file: number } | { course: number } | { url: string }

/** Where what is brought is kept; null when it is no place, or nothing is chosen yet. */
export function placeOf(each: Delivery): Place | null {
  switch (each.does) {
    case 'sendFile':
      return each.file === null ? null : { file: each.file }
    case 'openPage':
      return each.page === null ? null : { page: each.page }
    case 'openCourse':
      return each.course === null ? null : { course: each.course }
    case 'openAddress':
      return each.url === '' ? null : { url: each.url }
    case 'sendEmail':
    case 'startFollowup':
    case 'joinTopic':
    case 'leaveTopic':
    case 'addTag':
    case 'removeTag':
    case 'setField':
    case 'notifyTeam':
      return null
  }
}

const inHand: Readonly<Record<Delivery['does'], boolean>> = {
  sendFile: true,
  openPage: true,
  openCourse: true,
  sendEmail: true,
  openAddress: true,
  startFollowup: true,
  joinTopic: false,
  leaveTopic: false,
  addTag: false,
  removeTag: false,
  setField: false,
  notifyTeam: false,
}

/** Does a buyer get something by it, in their hands? */
export const isInHand = ({ does }: Delivery): boolean => inHand[does]
