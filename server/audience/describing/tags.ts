import type { TagView } from '../../../contract/audience/describing.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { renewWakings } from '../../followups/waking.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'
import { recordActivities } from '../people/activities.ts'
import type { NewActivity } from '../people/newActivity.ts'

/** A tag to be put on a person or taken off. */
export interface Tagging {
  contact: number
  tag: number
  at: Instant
}

/** The tags of these names; made where there is none yet. Letters' case makes no other tag. */
export async function tagsNamed(q: Queries, names: readonly string[], at: Date): Promise<number[]> {
  if (names.length === 0) return []
  const tags = await q.rows<{ id: number }>(
    // The update changes nothing, but makes the row be returned.
    `insert into tag (name, created_at)
     select name, $2::timestamptz from (
       select distinct on (lower(name)) name, n from unnest($1::text[]) with ordinality t (name, n)
       order by lower(name), n) once order by n
     on conflict (name_key) do update set name = tag.name returning id`,
    [names, at],
  )
  return tags.map(({ id }) => id)
}

/**
 * Puts tags on people; who has one already keeps it as it was, and nothing happens.
 * @returns what is to be written down of it
 */
export async function putOnTags(
  q: Queries,
  taggings: readonly Tagging[],
  by: string,
): Promise<NewActivity[]> {
  if (taggings.length === 0) return []
  const added = await q.rows<{ contact_id: number; tag_id: number; added_at: Date }>(
    // The join skips a tag that has been deleted: it is put on nobody, and holds nobody up.
    `insert into contact_tag (contact_id, tag_id, added_at, added_by)
     select contact, tag, at, $4 from unnest($1::bigint[], $2::bigint[], $3::timestamptz[]) t (contact, tag, at)
     join tag on tag.id = t.tag
     on conflict do nothing
     returning contact_id, tag_id, added_at`,
    [
      taggings.map((each) => each.contact),
      taggings.map((each) => each.tag),
      taggings.map((each) => new Date(each.at)),
      by,
    ],
  )
  return added.map((row) => ({
    contact: row.contact_id,
    kind: 'tagAdded',
    at: row.added_at.getTime(),
    details: { tag: row.tag_id, by },
  }))
}

/** Puts tags on people, and writes it down. */
export const addTags = async (q: Queries, taggings: readonly Tagging[], by: string): Promise<void> =>
  recordActivities(q, await putOnTags(q, taggings, by))

/** Takes tags off people; who does not have one is passed over. */
export async function removeTags(q: Queries, taggings: readonly Tagging[], by: string): Promise<void> {
  if (taggings.length === 0) return
  const removed = await q.rows<{ contact_id: number; tag_id: number; at: Date }>(
    `delete from contact_tag using unnest($1::bigint[], $2::bigint[], $3::timestamptz[]) t (contact, tag, at)
     where contact_id = contact and tag_id = tag returning contact_id, tag_id, t.at`,
    [
      taggings.map((each) => each.contact),
      taggings.map((each) => each.tag),
      taggings.map((each) => new Date(each.at)),
    ],
  )
  await recordActivities(
    q,
    removed.map((row) => ({
      contact: row.contact_id,
      kind: 'tagRemoved',
      at: row.at.getTime(),
      details: { tag: row.tag_id, by },
    })),
  )
}

export function listTags(q: Queries): Promise<TagView[]> {
  return q.rows<TagView>(
    `select tag.id, tag.name, tag.description, count(contact.id) people
     from tag left join contact_tag on tag_id = tag.id
     left join contact on contact.id = contact_id and not contact.rehearsal
     group by tag.id order by tag.name_key`,
  )
}

async function refuseTaken(q: Queries, name: string, but: number | null): Promise<void> {
  if (await q.row('select id from tag where name_key = lower($1) and id is distinct from $2', [name, but]))
    throw new Problem(409, 'This tag name is taken', 'Choose another name, or merge the two tags.', {
      name: 'Taken',
    })
}

/** Makes a tag that nobody has yet. @throws Problem 409 */
export async function createTag(
  platform: Platform,
  { name, description }: { name: string; description: string },
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    await refuseTaken(tx, name, null)
    const made = await tx.row<{ id: number }>(
      'insert into tag (name, description, created_at) values ($1, $2, $3) returning id',
      [name, description, new Date(platform.clock.now())],
    )
    if (!made) throw new Error('an insert returned no row')
    await announce(tx, 'audience')
    return made.id
  })
}

/** Renames or describes a tag. What uses it speaks of its id, so everything follows. @throws Problem 404, 409 */
export async function editTag(
  platform: Platform,
  id: number,
  { name, description }: { name: string; description: string },
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    await refuseTaken(tx, name, id)
    const found = await tx.row('update tag set name = $2, description = $3 where id = $1 returning id', [
      id,
      name,
      description,
    ])
    if (!found) throw notFound('This tag')
    await announce(tx, 'audience')
  })
}

/** Deletes a tag; conditions that speak of it are shown as broken until they are mended. @throws Problem 404 */
export async function deleteTag(platform: Platform, id: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row('delete from tag where id = $1 returning id', [id])
    if (!found) throw notFound('This tag')
    await announce(tx, 'audience')
  })
}

/** Where data speaks of tags by their ids: table, column, and what tells its rows apart. */
const speakingOfTags = [
  ['segment', 'tree', 'id::text'],
  ['followup', 'program', 'id::text'],
  ['followup_version', 'content', "followup_id || ' ' || number"],
  ['scorecard', 'card', 'id::text'],
  ['scorecard', 'next_card', 'id::text'],
  ['saved_section', 'section', 'id::text'],
  ['page_version', 'content', "page_id || ' ' || number"],
  ['form_version', 'content', "form_id || ' ' || number"],
  ['pop_up_version', 'content', "pop_up_id || ' ' || number"],
  ['email_version', 'content', "email_id || ' ' || number"],
  ['email_link', 'actions', 'id::text'],
  ['email_version', 'conditions', "email_id || ' ' || number"],
] as const

/** The keys under which data names a tag. */
const tagKeys = ['tag', 'waitingTag', 'confirmedTag']
const namesTag = tagKeys.map((key) => `@.${key} == $$id`).join(' || ')

/** Every number under such a key, wherever it stands in a tree of data. */
function retag(data: unknown, from: number, into: number): unknown {
  if (Array.isArray(data)) return data.map((each) => retag(each, from, into))
  if (typeof data !== 'object' || data === null) return data
  return Object.fromEntries(
    Object.entries(data).map(([key, value]) => [
      key,
      tagKeys.includes(key) && value === from ? into : retag(value, from, into),
    ]),
  )
}

/**
 * Makes one tag of two: people, pages, segments, follow-ups, scorecards and history go over to `into`.
 * Who had both keeps the older entry.
 * @throws Problem 404, 409
 */
export async function mergeTags(platform: Platform, from: number, into: number): Promise<void> {
  if (from === into) throw new Problem(409, 'This is the same tag', 'Choose another tag to merge it into.')
  await platform.database.inTransaction(async (tx) => {
    const both = await tx.rows('select id from tag where id in ($1, $2) for update', [from, into])
    if (both.length < 2) throw notFound('One of the tags')
    await tx.rows(
      `insert into contact_tag (contact_id, tag_id, added_at, added_by)
       select contact_id, $2, added_at, added_by from contact_tag where tag_id = $1
       on conflict (contact_id, tag_id) do update
         set added_at = least(contact_tag.added_at, excluded.added_at)`,
      [from, into],
    )
    await tx.rows(
      `update activity set details = jsonb_set(details, '{tag}', to_jsonb($2::bigint))
       where kind in ('tagAdded', 'tagRemoved') and details @> jsonb_build_object('tag', $1::bigint)`,
      [from, into],
    )
    for (const [table, column, key] of speakingOfTags) {
      const rows = await tx.rows<{ key: string; data: unknown }>(
        `select ${key} key, ${column} data from ${table}
         where jsonb_path_exists(${column}, '$.** ? (${namesTag})', jsonb_build_object('id', $1::bigint))`,
        [from],
      )
      await tx.rows(
        `update ${table} set ${column} = t.data from unnest($1::text[], $2::jsonb[]) t (key, data) where ${key} = t.key`,
        [rows.map((row) => row.key), rows.map(({ data }) => JSON.stringify(retag(data, from, into)))],
      )
    }
    await tx.rows('delete from tag where id = $1', [from])
    await renewWakings(tx)
    await announce(tx, 'audience', 'followups', 'pages')
  })
}
