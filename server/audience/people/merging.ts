import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { Problem } from '../../http/problems.ts'
import { recordActivities } from './activities.ts'
import { contactById, personNow } from './contacts.ts'
import { endWaiting } from './permission.ts'
import { queueScoring } from '../scores/scoreJobs.ts'

/** Tables whose rows simply go over to the person who stays. */
const belongings = [
  'activity',
  'consent',
  'decision',
  'enrolment',
  'message',
  'form_sending',
  'confirmation',
  'address_change',
  'other_address',
  'visit',
  'named_link_click',
  'quiz_take',
  'cart',
  'customer_order',
]

/** Who has begun a course as either of the two has begun it. */
const moveLessons = (q: Queries, from: number, into: number): Promise<object[]> =>
  q.rows(
    `insert into lesson_seen (contact_id, page_id, at)
     select $2, page_id, at from lesson_seen where contact_id = $1
     on conflict (contact_id, page_id) do update set at = least(lesson_seen.at, excluded.at)`,
    [from, into],
  )

/** The first deadline of an offer stays, and who belonged to a segment does not come into it anew. */
async function moveFollowups(q: Queries, from: number, into: number): Promise<void> {
  await q.rows(
    `insert into personal_deadline (contact_id, offer, ends_at)
     select $2, offer, ends_at from personal_deadline where contact_id = $1
     on conflict (contact_id, offer) do update set ends_at = least(personal_deadline.ends_at, excluded.ends_at)`,
    [from, into],
  )
  await q.rows(
    `insert into followup_member (followup_id, segment_id, contact_id)
     select followup_id, segment_id, $2 from followup_member where contact_id = $1 on conflict do nothing`,
    [from, into],
  )
  // The same date let both of them in; it lets nobody in twice all the same.
  await q.rows(
    `update enrolment set occasion = null where contact_id = $1 and occasion is not null
       and exists (select from enrolment other where other.contact_id = $2
         and other.followup_id = enrolment.followup_id and other.occasion = enrolment.occasion)`,
    [from, into],
  )
}

/** What a click did for either of the two, no later click does again. */
async function moveDone(q: Queries, from: number, into: number): Promise<void> {
  for (const table of ['link_done', 'named_link_done'])
    await q.rows(
      `insert into ${table} (link_id, contact_id, at) select link_id, $2, at from ${table} where contact_id = $1
       on conflict do nothing`,
      [from, into],
    )
}

async function moveTagsAndTopics(q: Queries, from: number, into: number): Promise<void> {
  await q.rows(
    `insert into contact_tag (contact_id, tag_id, added_at, added_by)
     select $2, tag_id, added_at, added_by from contact_tag where contact_id = $1
     on conflict (contact_id, tag_id) do update set added_at = least(contact_tag.added_at, excluded.added_at)`,
    [from, into],
  )
  // The later word counts, whoever of the two said it.
  await q.rows(
    `insert into contact_topic (contact_id, topic_id, agreed, at, by)
     select $2, topic_id, agreed, at, by from contact_topic where contact_id = $1
     on conflict (contact_id, topic_id) do update set agreed = excluded.agreed, at = excluded.at, by = excluded.by
       where excluded.at > contact_topic.at`,
    [from, into],
  )
}

/** What is blank in the one who stays is filled in from the other; of two values the one who stays keeps theirs. */
async function fillIn(q: Queries, from: number, into: number, at: Date): Promise<void> {
  await q.rows(
    `update contact k set
       first_name = coalesce(nullif(k.first_name, ''), o.first_name),
       last_name = coalesce(nullif(k.last_name, ''), o.last_name),
       phone = coalesce(k.phone, o.phone), country = coalesce(k.country, o.country),
       language = coalesce(k.language, o.language), zone = coalesce(k.zone, o.zone),
       fields = o.fields || k.fields,
       source = case when o.created_at < k.created_at then o.source || k.source else k.source || o.source end,
       created_at = least(k.created_at, o.created_at),
       -- A pause that either of them asked for is kept to its end.
       paused_until = greatest(k.paused_until, o.paused_until),
       -- Whoever said no once has said no.
       marketing_state = case
         when 'complained' in (k.marketing_state, o.marketing_state) then 'complained'
         when 'unsubscribed' in (k.marketing_state, o.marketing_state) then 'unsubscribed'
         when k.marketing_state in ('neverAsked', 'waiting') and o.marketing_state = 'subscribed' then 'subscribed'
         else k.marketing_state end,
       untracked = k.untracked or o.untracked,
       updated_at = $3
     from contact o where k.id = $2 and o.id = $1`,
    [from, into, at],
  )
}

/**
 * Makes one person of two: histories, tags, consents, mail and follow-ups of `other` go over, and their address
 * stays known as another one of the person who remains.
 * @throws Problem 404, 409
 */
export async function mergePeople(
  platform: Platform,
  keep: number,
  other: number,
  by: string,
): Promise<void> {
  if (keep === other)
    throw new Problem(409, 'This is the same person', 'Choose another person to merge with.')
  await platform.database.inTransaction(async (tx) => {
    // Always in the same order, so that two merges never wait for each other.
    const locked = [
      await contactById(tx, Math.min(keep, other), 'remove'),
      await contactById(tx, Math.max(keep, other), 'remove'),
    ]
    const [kept, gone] = locked[0]?.id === keep ? locked : locked.reverse()
    if (!kept || !gone) return
    if (kept.rehearsal !== gone.rehearsal)
      throw new Problem(
        409,
        'One of the two is in rehearsal',
        'Rehearsal people are made up: they can only be merged with each other.',
      )
    const at = personNow(platform.clock, kept)
    // Who waits for a confirmation because they once said no has said no.
    await endWaiting(tx, [kept.id, gone.id])
    await moveTagsAndTopics(tx, gone.id, kept.id)
    await moveLessons(tx, gone.id, kept.id)
    await moveFollowups(tx, gone.id, kept.id)
    await moveDone(tx, gone.id, kept.id)
    // One follow-up holds a person once: where both are inside, the one who stays goes on and the other ends.
    await tx.rows(
      `update enrolment set step = null, due_at = null, wakes_at = null, ended_at = $3
       where contact_id = $1 and ended_at is null and followup_id in
         (select followup_id from enrolment where contact_id = $2 and ended_at is null)`,
      [gone.id, kept.id, new Date(at)],
    )
    for (const table of belongings)
      await tx.rows(`update ${table} set contact_id = $2 where contact_id = $1`, [gone.id, kept.id])
    await fillIn(tx, gone.id, kept.id, new Date(at))
    await tx.rows(
      `insert into other_address (address_key, address, contact_id, at)
       select address_key, address, $2, $3 from contact where id = $1`,
      [gone.id, kept.id, new Date(at)],
    )
    await tx.rows('update merged_contact set into_id = $2 where into_id = $1', [gone.id, kept.id])
    await tx.rows('insert into merged_contact (id, into_id, at) values ($1, $2, $3)', [
      gone.id,
      kept.id,
      new Date(at),
    ])
    await tx.rows('delete from contact_score where contact_id = $1', [gone.id])
    await tx.rows('delete from contact where id = $1', [gone.id])
    await queueScoring(tx, [kept.id])
    await recordActivities(tx, [
      { contact: kept.id, kind: 'contactMerged', at, details: { address: gone.address, by } },
    ])
    await announce(tx, 'audience', 'followups')
  })
}
