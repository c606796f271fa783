import type { Instant } from '../../../core/audience/people/activity.ts'
import {
  valueSetBy,
  type PersonAction,
  type TopicAction,
} from '../../../core/audience/people/personAction.ts'
import type { Queries } from '../../database/connect.ts'
import { enrolManually } from '../../followups/manualEnrolment.ts'
import { Problem } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'
import { openFields } from '../describing/fields.ts'
import { setOwnFields } from '../describing/ownFields.ts'
import { addTags, removeTags } from '../describing/tags.ts'
import { setTopic } from '../describing/topics.ts'

/** What somebody did by which something is done with them. */
export interface Deed {
  contact: number
  /** As the journal says it. */
  by: string
  /** What somebody agreed to who joins a topic by it. */
  wording: string
  at: Instant
}

/** Does an action with whoever did something, in the transaction of `q`; they have been locked. */
export type Apply<Action, D = Deed> = (
  action: Action,
  deed: D,
  on: { platform: Platform; q: Queries },
) => Promise<void>

const setsTopic =
  (agreed: boolean): Apply<TopicAction> =>
  async ({ topic }, { contact, by, wording, at }, { q }) => {
    // A topic that is gone is joined by nobody.
    if (topic === null || !(await q.row('select from topic where id = $1', [topic]))) return
    await setTopic(q, { contact, topic, agreed, wording, by, at })
  }

type Shared = PersonAction | TopicAction

/** Sends somebody an email of the Library, while it is live. */
export async function sendEmailOf(
  q: Queries,
  email: number | null,
  contact: number,
  at: Instant,
): Promise<void> {
  await q.rows(
    `insert into message (email_id, contact_id, purpose, topic_id, queued_at, due_at)
     select id, $2, purpose, topic_id, $3, $3 from email
     where id = $1 and published_version is not null and archived_at is null`,
    [email, contact, new Date(at)],
  )
}

/** What links, quizzes and orders alike do. */
export const personAppliers: { readonly [K in Shared['does']]: Apply<Extract<Shared, { does: K }>> } = {
  addTag: ({ tag }, { contact, by, at }, { q }) =>
    tag === null ? Promise.resolve() : addTags(q, [{ contact, tag, at }], by),
  removeTag: ({ tag }, { contact, by, at }, { q }) =>
    tag === null ? Promise.resolve() : removeTags(q, [{ contact, tag, at }], by),
  joinTopic: setsTopic(true),
  leaveTopic: setsTopic(false),
  async setField(action, { contact, by, at }, { q }) {
    const set = valueSetBy(action, await openFields(q))
    if (!set) return
    const values = Object.entries(set.values).map(([field, value]) => ({
      contact,
      field: Number(field),
      value,
      at,
    }))
    await setOwnFields(q, values, by)
  },
  async startFollowup({ followup }, { contact, by }, { platform, q }) {
    if (followup === null) return
    try {
      await enrolManually(platform, q, followup, [contact], by)
    } catch (error) {
      // One that is not live takes nobody in; what they did counts all the same.
      if (!(error instanceof Problem)) throw error
    }
  },
}
