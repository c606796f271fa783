import { kindsWith } from '../../../core/audience/people/activityTraits.ts'
import type { Queries } from '../../database/connect.ts'
import type { Progress } from '../../work/longWork.ts'

/** What an import itself writes into people's histories; anything else they or the business did. */
const ownKinds = kindsWith(({ writtenByImports }) => writtenByImports)

/** Columns that an import changes; each goes back only where it still is what the import made it. */
const columns = [
  'first_name',
  'last_name',
  'phone',
  'country',
  'language',
  'zone',
  'marketing_state',
] as const

/**
 * Takes an import back, in the transaction of `q`. Who has done something since, or has been written to, stays on
 * the list; what was changed by hand since stays as it is.
 * @returns what was done, in words
 */
export async function undoImport(q: Queries, id: number, progress: Progress): Promise<string> {
  const by = `import ${id}`
  await progress.report('finding people who have been active since', 0)
  await q.rows('create temporary table import_going (id bigint primary key) on commit drop')
  await q.rows(
    `insert into import_going select c.id from contact c where c.import_id = $1
       and not exists (select from activity where contact_id = c.id and not (kind = any($2))
         and not (kind = 'unsubscribed' and details @> jsonb_build_object('import', $1::bigint)))
       and not exists (select from message where contact_id = c.id)`,
    [id, ownKinds],
  )
  await progress.report('removing people', 0)
  for (const table of ['activity', 'contact_score'])
    await q.rows(`delete from ${table} using import_going g where contact_id = g.id`)
  const gone = await q.row<{ people: number }>(
    `with gone as (delete from contact using import_going g where contact.id = g.id returning 1)
     select count(*) people from gone`,
  )
  await progress.report('restoring updated people', 0)
  const restored = await q.row<{ people: number }>(
    `with restored as (
       update contact c set ${columns
         .map(
           (name) =>
             `${name} = case when to_jsonb(c.${name}) is not distinct from nullif(ch.after->'${name}', 'null')
               then ch.before->>'${name}' else c.${name} end`,
         )
         .join(', ')},
         fields = case when c.fields = ch.after->'fields' then ch.before->'fields' else c.fields end
       from import_change ch where ch.import_id = $1 and ch.contact_id = c.id returning 1)
     select count(*) people from restored`,
    [id],
  )
  // Who waits for a confirmation goes back, if they do not confirm, to what they were before the import.
  await q.rows(
    `update confirmation set state_before = ch.before->>'marketing_state' from import_change ch
     where ch.import_id = $1 and ch.contact_id = confirmation.contact_id and confirmed_at is null
       and state_before = ch.after->>'marketing_state'`,
    [id],
  )
  await progress.report('removing tags, topics and consents', 0)
  for (const table of ['contact_tag', 'contact_topic'] as const) {
    const column = table === 'contact_tag' ? 'added_by' : 'by'
    await q.rows(`delete from ${table} where ${column} = $1`, [by])
  }
  await q.rows(
    `delete from activity where (kind in ('tagAdded', 'topicJoined') and details @> jsonb_build_object('by', $1::text))
       or (kind = 'unsubscribed' and details @> jsonb_build_object('import', $2::bigint))`,
    [by, id],
  )
  await q.rows('delete from consent where import_id = $1', [id])
  await q.rows(
    `update contact c set marketing_state = 'neverAsked' where import_id = $1 and marketing_state = 'subscribed'
       and not exists (select from consent where contact_id = c.id and given)`,
    [id],
  )
  const stayed = await q.row<{ people: number }>('select count(*) people from contact where import_id = $1', [
    id,
  ])
  const kept = stayed?.people ?? 0
  const rest = kept === 0 ? '' : ` ${kept} kept, because they have been active or have been emailed since.`
  return `${gone?.people ?? 0} removed, ${restored?.people ?? 0} restored.${rest}`
}
