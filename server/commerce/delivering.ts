import type { Delivery } from '../../core/commerce/delivery.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personAppliers, sendEmailOf, type Apply, type Deed } from '../audience/people/personActions.ts'
import { letIntoCourse } from '../pages/courses.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'

/** Whose order it is that brings something, and how the journal tells of it. */
export interface Bought extends Deed {
  order: number
  /** What the team is told. */
  note: string
  /** It is surely them: they paid, or came by a link of their own mail, or were just put on the list. */
  trusted: boolean
}

const byHand = (): Promise<void> => Promise.resolve()

const appliers: { readonly [K in Delivery['does']]: Apply<Extract<Delivery, { does: K }>, Bought> } = {
  ...personAppliers,
  async sendFile({ file }, { contact, at }, { q }) {
    if (file === null || !(await q.row('select from file where id = $1', [file]))) return
    await recordActivities(
      q,
      [{ contact, kind: 'fileSent', at, details: { file } }],
      [{ name: 'sendFile', payload: { contact, file } }],
    )
  },
  sendEmail: ({ email }, { contact, at }, { q }) => sendEmailOf(q, email, contact, at),
  // Ways that the receipt and the page after paying show.
  openPage: byHand,
  openAddress: byHand,
  async openCourse({ course }, { contact, at }, { q }) {
    if (course !== null) await letIntoCourse(q, course, contact, new Date(at))
  },
  notifyTeam: (_delivery, { contact, order, note }, { q }) =>
    queueJobs(q, 'tellTeam', [{ contact, order, words: note }]),
}

/** May it be done in the name of whoever only typed an address, and paid nothing? */
const byAnybody: Record<Delivery['does'], boolean> = {
  sendFile: true,
  openPage: true,
  openCourse: true,
  sendEmail: true,
  openAddress: true,
  addTag: true,
  removeTag: false,
  setField: false,
  startFollowup: true,
  joinTopic: false,
  leaveTopic: false,
  notifyTeam: true,
}

/** Does what products bring, in the transaction of `q`; the buyer has been locked. */
export async function deliver(
  platform: Platform,
  q: Queries,
  all: readonly Delivery[],
  bought: Bought,
): Promise<void> {
  for (const each of all)
    if (bought.trusted || byAnybody[each.does])
      await (appliers[each.does] as Apply<Delivery, Bought>)(each, bought, { platform, q })
}
