import type { Instant } from '../../core/audience/people/activity.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { personAppliers, type Apply, type Deed } from '../audience/people/personActions.ts'
import type { Queries } from '../database/connect.ts'
import { confirmByClick } from '../capture/confirming.ts'
import { leaveFollowup } from '../followups/leaving.ts'
import type { Platform } from '../platform.ts'

const appliers: { readonly [K in LinkAction['does']]: Apply<Extract<LinkAction, { does: K }>> } = {
  ...personAppliers,
  confirmAddress: (_action, { contact, by, at }, { platform, q }) =>
    confirmByClick(platform, q, { contact, by, at }),
  async leaveFollowup({ followup }, { contact, by, at }, { q }) {
    if (followup !== null) await leaveFollowup(q, { followup, contact, reason: `clicked the ${by}`, at })
  },
}

/** Does what a click does, in the transaction of `q`; whose click it is has been locked. */
export async function applyActions(
  platform: Platform,
  q: Queries,
  actions: readonly LinkAction[],
  click: Deed,
): Promise<void> {
  for (const action of actions)
    await (appliers[action.does] as Apply<LinkAction>)(action, click, { platform, q })
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
