import type { Instant } from '../../core/audience/people/activity.ts'
import { valueSetBy } from '../../core/audience/people/personAction.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { openFields } from '../audience/describing/fields.ts'
import { setOwnFields } from '../audience/describing/ownFields.ts'
import { addTags, removeTags } from '../audience/describing/tags.ts'
import { setTopic } from '../audience/describing/topics.ts'
import type { Queries } from '../database/connect.ts'
import { Problem } from '../http/problems.ts'
import { confirmByClick } from '../capture/confirming.ts'
import { leaveFollowup } from '../followups/leaving.ts'
import { enrolManually } from '../followups/manualEnrolment.ts'
import type { Platform } from '../platform.ts'

/** Whose click it is, and how the journal tells of it. */
interface Done {
  contact: number
  by: string
  /** What somebody agreed to who joins a topic by it. */
  wording: string
  at: Instant
}

type Apply<K extends LinkAction['does']> = (
  action: Extract<LinkAction, { does: K }>,
  click: Done,
  on: { platform: Platform; q: Queries },
) => Promise<void>

const setsTopic =
  (agreed: boolean) =>
  async (
    { topic }: { topic: number | null },
    { contact, by, wording, at }: Done,
    { q }: { q: Queries },
  ): Promise<void> => {
    // A topic that is gone is joined by nobody.
    if (topic === null || !(await q.row('select from topic where id = $1', [topic]))) return
    await setTopic(q, { contact, topic, agreed, wording, by, at })
  }

const appliers: { [K in LinkAction['does']]: Apply<K> } = {
  addTag: ({ tag }, { contact, by, at }, { q }) =>
    tag === null ? Promise.resolve() : addTags(q, [{ contact, tag, at }], by),
  removeTag: ({ tag }, { contact, by, at }, { q }) =>
    tag === null ? Promise.resolve() : removeTags(q, [{ contact, tag, at }], by),
  joinTopic: setsTopic(true),
  leaveTopic: setsTopic(false),
  confirmAddress: (_action, { contact, by, at }, { platform, q }) =>
    confirmByClick(platform, q, { contact, by, at }),
  async leaveFollowup({ followup }, { contact, by, at }, { q }) {
    if (followup !== null) await leaveFollowup(q, { followup, contact, reason: `clicked the ${by}`, at })
  },
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
      // One that is not live takes nobody in; the link leads on all the same.
      if (!(error instanceof Problem)) throw error
    }
  },
}

/** Does what a click does, in the transaction of `q`; whose click it is has been locked. */
export async function applyActions(
  platform: Platform,
  q: Queries,
  actions: readonly LinkAction[],
  click: Done,
): Promise<void> {
  for (const action of actions)
    await (appliers[action.does] as Apply<LinkAction['does']>)(action, click, { platform, q })
}

/** A click on a link of an email. */
interface Click {
  contact: number
  link: number
  /** What the link is called, and the email in which it stands. */
  label: string
  email: string
  at: Instant
}

/**
 * Does what a click does, once for a person and a link, in the transaction of `q`. Whose click it is has been locked:
 * people come before what is theirs.
 */
export async function applyLinkActions(
  platform: Platform,
  q: Queries,
  actions: readonly LinkAction[],
  { contact, link, label, email, at }: Click,
): Promise<void> {
  if (actions.length === 0) return
  const first = await q.row(
    `insert into link_done (link_id, contact_id, at) values ($1, $2, $3) on conflict do nothing returning link_id`,
    [link, contact, new Date(at)],
  )
  if (!first) return
  const by = `link “${label}” in “${email}”`
  const wording = `Clicked “${label}” in “${email}”`
  await applyActions(platform, q, actions, { contact, by, wording, at })
}
