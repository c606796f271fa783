import type { TopicView } from '../../../contract/audience/describing.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'
import { recordActivities } from '../people/activities.ts'

export function listTopics(q: Queries): Promise<TopicView[]> {
  return q.rows<TopicView>(
    `select topic.id, topic.name, topic.description, topic.archived_at is not null archived, count(contact.id) people
     from topic left join contact_topic on topic_id = topic.id and agreed
     left join contact on contact.id = contact_id and not contact.rehearsal
     group by topic.id order by topic.name_key`,
  )
}

/** Makes a topic, or changes the one with this id. @throws Problem 404, 409 */
export async function saveTopic(
  platform: Platform,
  id: number | null,
  { name, description, archived }: { name: string; description: string; archived: boolean },
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const now = new Date(platform.clock.now())
    const other = await tx.row('select id from topic where name_key = lower($1) and id is distinct from $2', [
      name,
      id,
    ])
    if (other) throw new Problem(409, 'This topic name is taken', 'Choose another name.')
    const saved =
      id === null
        ? await tx.row<{ id: number }>(
            'insert into topic (name, description, created_at) values ($1, $2, $3) returning id',
            [name, description, now],
          )
        : await tx.row<{ id: number }>(
            `update topic set name = $2, description = $3,
               archived_at = case when $4 then coalesce(archived_at, $5) end where id = $1 returning id`,
            [id, name, description, archived, now],
          )
    if (!saved) throw notFound('This topic')
    await announce(tx, 'audience')
    return saved.id
  })
}

/** What somebody says of a topic, with the words they saw. */
export interface TopicWish {
  contact: number
  topic: number
  agreed: boolean
  wording: string
  by: string
  at: Instant
}

/**
 * Writes down that people agree to topics, or no longer do, each once. Saying the same again changes nothing, and so
 * does a topic that is gone.
 */
export async function setTopics(q: Queries, wishes: readonly TopicWish[]): Promise<void> {
  if (wishes.length === 0) return
  const columns = [
    wishes.map(({ contact }) => contact),
    wishes.map(({ topic }) => topic),
    wishes.map(({ agreed }) => agreed),
    wishes.map(({ at }) => new Date(at)),
    wishes.map(({ by }) => by),
    wishes.map(({ wording }) => wording),
  ]
  const changed = await q.rows<{ contact: number; topic: number; agreed: boolean; by: string; at: Date }>(
    // Not wanting what one never had is nothing to write down.
    `with wished as (
       select wished.* from unnest($1::bigint[], $2::bigint[], $3::boolean[], $4::timestamptz[], $5::text[], $6::text[])
         wished (contact, topic, agreed, at, by, wording) join topic on topic.id = wished.topic),
     changed as (
       insert into contact_topic (contact_id, topic_id, agreed, at, by)
       select contact, topic, agreed, at, by from wished
       where agreed or exists (select from contact_topic where contact_id = contact and topic_id = topic)
       on conflict (contact_id, topic_id) do update set agreed = excluded.agreed, at = excluded.at, by = excluded.by
         where contact_topic.agreed <> excluded.agreed returning contact_id, topic_id, agreed, at, by),
     consented as (
       insert into consent (contact_id, given, wording, source, at, topic_id)
       select contact_id, changed.agreed, wording, changed.by, changed.at, topic_id
       from changed join wished on contact = contact_id and topic = topic_id)
     select contact_id contact, topic_id topic, agreed, by, at from changed`,
    columns,
  )
  await recordActivities(
    q,
    changed.map(({ contact, topic, agreed, by, at }) => ({
      contact,
      kind: agreed ? 'topicJoined' : 'topicLeft',
      at: at.getTime(),
      details: { topic, by },
    })),
  )
}

/** The same for one person. */
export const setTopic = (q: Queries, wish: TopicWish): Promise<void> => setTopics(q, [wish])
