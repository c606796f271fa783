import type { Instant } from '../../core/audience/people/activity.ts'
import type { Effect } from '../../core/followups/enrolment.ts'
import type { Program } from '../../core/followups/program.ts'
import { setOwnFields } from '../audience/describing/ownFields.ts'
import { addTags, removeTags } from '../audience/describing/tags.ts'
import { setTopics } from '../audience/describing/topics.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { makeCodes } from '../commerce/couponCodes.ts'
import { beginDeadlines } from '../commerce/deadlines.ts'
import type { Queries } from '../database/connect.ts'
import { queueJobs } from '../work/jobs.ts'
import type { ClaimedEnrolment } from './claimedEnrolment.ts'
import { letIn } from './entering.ts'
import { leaveFollowups } from './leaving.ts'

type EffectKind = Effect['kind']

/** An effect of one kind, with whose it is and the moment on their clock. */
export interface Due<K extends EffectKind> {
  claimed: ClaimedEnrolment
  at: Instant
  effect: Extract<Effect, { kind: K }>
}

/** An effect of whatever kind. */
export type AnyDue = Omit<Due<never>, 'effect'> & { effect: Effect }

type Apply<K extends EffectKind> = (q: Queries, due: readonly Due<K>[], now: Instant) => Promise<void>

const by = 'follow-up'

const sendEmails: Apply<'sendEmail'> = async (q, due, now) => {
  await q.rows(
    // The unique step of an enrolment makes an email that was decided twice go once.
    `insert into message (email_id, contact_id, enrolment_id, step, purpose, topic_id, queued_at, due_at, when_full)
     select email.id, m.contact, m.enrolment, m.step, email.purpose, email.topic_id, $5, $5, m.when_full
     from unnest($1::bigint[], $2::bigint[], $3::bigint[], $4::text[], $6::text[])
       m (email, contact, enrolment, step, when_full)
     join email on email.id = m.email
     on conflict (enrolment_id, step) do nothing`,
    [
      due.map(({ effect }) => effect.email),
      due.map(({ claimed }) => claimed.contact),
      due.map(({ claimed }) => claimed.id),
      due.map(({ effect }) => effect.step),
      new Date(now),
      due.map(({ effect }) => effect.whenFull ?? 'move'),
    ],
  )
}

const setsTopic =
  (agreed: boolean) =>
  (q: Queries, due: readonly (Due<'joinTopic'> | Due<'leaveTopic'>)[]): Promise<void> =>
    setTopics(
      q,
      due.map(({ claimed, at, effect }) => ({
        contact: claimed.contact,
        topic: effect.topic,
        agreed,
        wording: 'By a follow-up',
        by,
        at,
      })),
    )

/** Others begin at once; a worker takes them on from there, so that a circle is cut by the day's limit. */
const startFollowups: Apply<'startFollowup'> = async (q, due, now) => {
  const live = await q.rows<{ id: number; program: Program }>(
    `select id, program from followup where id = any($1) and state = 'live' order by id`,
    [due.map(({ effect }) => effect.followup)],
  )
  for (const followup of live)
    await letIn(
      q,
      followup,
      due
        .filter(({ effect }) => effect.followup === followup.id)
        .map(({ claimed, at }) => ({ contact: claimed.contact, at, by, session: claimed.session ?? null })),
      now,
    )
}

const startDeadlines: Apply<'startDeadline'> = (q, due) =>
  beginDeadlines(
    q,
    due.map(({ claimed, at, effect: { offer, endsAt } }) => ({
      contact: claimed.contact,
      at,
      offer,
      endsAt,
    })),
    by,
  )

const makeCoupons: Apply<'makeCoupon'> = (q, due) =>
  makeCodes(
    q,
    due.map(({ claimed, at, effect: { coupon } }) => ({ contact: claimed.contact, at, coupon })),
  )

/** How each kind of effect is applied, to all who are due at once. */
const appliers: { readonly [K in EffectKind]: Apply<K> } = {
  sendEmail: sendEmails,
  notifyTeam: (q, due) =>
    queueJobs(
      q,
      'tellTeam',
      due.map(({ claimed, effect }) => ({
        contact: claimed.contact,
        followup: claimed.followup,
        words: effect.words,
      })),
    ),
  addTag: (q, due) =>
    addTags(
      q,
      due.map(({ claimed, at, effect }) => ({ contact: claimed.contact, tag: effect.tag, at })),
      by,
    ),
  removeTag: (q, due) =>
    removeTags(
      q,
      due.map(({ claimed, at, effect }) => ({ contact: claimed.contact, tag: effect.tag, at })),
      by,
    ),
  setField: (q, due) =>
    setOwnFields(
      q,
      due.map(({ claimed, at, effect }) => ({
        contact: claimed.contact,
        field: effect.field,
        value: effect.value,
        at,
      })),
      by,
    ),
  givePoints: (q, due) =>
    recordActivities(
      q,
      due.map(({ claimed, at, effect }) => ({
        contact: claimed.contact,
        kind: 'pointsGiven',
        at,
        details: { scorecard: effect.scorecard, points: effect.points, by },
      })),
    ),
  joinTopic: setsTopic(true),
  leaveTopic: setsTopic(false),
  startFollowup: startFollowups,
  async leaveFollowup(q, due) {
    await leaveFollowups(
      q,
      due.map(({ claimed, at, effect }) => ({
        followup: effect.followup,
        contact: claimed.contact,
        reason: 'another follow-up took them out',
        at,
      })),
    )
  },
  startDeadline: startDeadlines,
  makeCoupon: makeCoupons,
  webhook: (q, due) =>
    queueJobs(
      q,
      'callWebhook',
      due.map(({ claimed, at, effect }) => ({
        contact: claimed.contact,
        followup: claimed.followup,
        enrolment: claimed.id,
        step: effect.step,
        url: effect.url,
        at,
      })),
    ),
}

/** Applies what was decided for many people, kind by kind. */
export async function applyEffects(q: Queries, all: readonly AnyDue[], now: Instant): Promise<void> {
  for (const kind of Object.keys(appliers) as EffectKind[]) {
    const due = all.filter(({ effect }) => effect.kind === kind)
    if (due.length > 0)
      await (appliers[kind] as (q: Queries, due: readonly AnyDue[], now: Instant) => Promise<void>)(
        q,
        due,
        now,
      )
  }
}
