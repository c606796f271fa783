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

/**
 * Writes down that a person agrees to a topic, or no longer does, with the words they saw. Saying the same again
 * changes nothing.
 */
export async function setTopic(
  q: Queries,
  entry: { contact: number; topic: number; agreed: boolean; wording: string; by: string; at: Instant },
): Promise<void> {
  const { contact, topic, agreed, wording, by } = entry
  const at = new Date(entry.at)
  const changed = await q.row(
    // Not wanting what one never had is nothing to write down.
    `insert into contact_topic (contact_id, topic_id, agreed, at, by)
     select $1, $2, $3, $4, $5
     where $3 or exists (select from contact_topic where contact_id = $1 and topic_id = $2)
     on conflict (contact_id, topic_id) do update set agreed = $3, at = $4, by = $5
       where contact_topic.agreed <> $3 returning contact_id`,
    [contact, topic, agreed, at, by],
  )
  if (!changed) return
  await q.rows(
    'insert into consent (contact_id, given, wording, source, at, topic_id) values ($1, $2, $3, $4, $5, $6)',
    [contact, agreed, wording, by, at, topic],
  )
  await recordActivities(q, [
    { contact, kind: agreed ? 'topicJoined' : 'topicLeft', at: entry.at, details: { topic, by } },
  ])
}
