import type { ImportChoices } from '../../../contract/audience/imports.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { MarketingState } from '../../../core/audience/people/permission.ts'
import type { Queries } from '../../database/connect.ts'
import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import type { StartKind } from '../../../core/followups/start.ts'
import { Followup } from '../../followups/models.ts'
import { wake } from '../../followups/waking.ts'
import { queueJobs } from '../../work/jobs.ts'
import type { Progress } from '../../work/longWork.ts'
import { changesSql, nextValues, peopleOf } from './resolve.ts'
import { queueScoringAfter } from '../scores/scoreJobs.ts'
import { tagsNamed } from '../describing/tags.ts'

/** People merged in one round of statements: progress is told and a request to cancel is heard after each. */
const batch = 100_000

/** What the statements of one import share. */
interface Merge {
  id: number
  /** How tags and consents say where they came from. */
  by: string
  source: string
  choices: ImportChoices
  tags: number[]
  at: Date
  /** Who of the file is meant in this round. */
  range: string
}

/** Who has something done to them: everybody, or only the new. */
const touched = ({ choices }: Merge): string =>
  choices.existing === 'skip' ? 'p.is_new and not p.suppressed' : 'not p.suppressed'

const stateOfNew: Record<ImportChoices['permission'], MarketingState> = {
  agreed: 'subscribed',
  notAsked: 'neverAsked',
  refused: 'unsubscribed',
}

async function addNew(q: Queries, merge: Merge): Promise<void> {
  const people = `${peopleOf(merge.id)} p where ${merge.range} and p.is_new and not p.suppressed`
  const counts = await q.row<{ wanted: number; made: number }>(
    `with made as (
       insert into contact (id, address, address_key, first_name, last_name, phone, country, language, zone, fields,
         marketing_state, import_id, created_at, updated_at) overriding system value
       select contact_id, address, address_key, coalesce(first_name, ''), coalesce(last_name, ''), phone, country,
         language, zone, fields, $1, $2, $3, $3 from ${people} order by n
       on conflict (address_key) do nothing returning 1)
     select (select count(*) from ${people}) wanted, (select count(*) from made) made`,
    [stateOfNew[merge.choices.permission], merge.id, merge.at],
  )
  // Somebody signed up by themselves while the import was under way: from here on they are known.
  if (counts && counts.made < counts.wanted)
    await q.rows(
      `update ${peopleOf(merge.id)} p set contact_id = c.id, is_new = false from contact c
       where ${merge.range} and p.is_new and c.address_key = p.address_key and c.id <> p.contact_id`,
    )
  const added = await q.rows<{ contact: number; activity: number }>(
    `with noted as (
       insert into activity (contact_id, kind, details, at)
       select contact_id, 'contactAdded', jsonb_build_object('by', 'import', 'import', $1::bigint), $2
       from ${people} order by n returning id, contact_id)
     select contact_id contact, id activity from noted where $3`,
    [merge.id, merge.at, mayStart(merge.choices) && (await startsBy(q, 'imported'))],
  )
  await queueJobs(
    q,
    'startFollowups',
    added.map((each) => ({
      ...each,
      kind: 'contactAdded',
      details: { by: 'import', import: merge.id },
      at: merge.at.getTime(),
    })),
  )
}

async function changeKnown(q: Queries, merge: Merge): Promise<void> {
  if (merge.choices.existing === 'skip') return
  const values = nextValues(merge.choices)
  const columns = Object.keys(values)
  const pairs = (of: (name: string) => string): string =>
    columns.map((name) => `'${name}', ${of(name)}`).join(', ')
  const known = `${peopleOf(merge.id)} p join contact c on c.id = p.contact_id
    where ${merge.range} and not p.is_new and not p.suppressed and ${changesSql(merge.choices)}`
  await q.rows(
    `insert into import_change (import_id, contact_id, before, after)
     select $1, c.id, jsonb_build_object(${pairs((name) => `c.${name}`)}),
       jsonb_build_object(${pairs((name) => values[name] ?? 'null')}) from ${known}`,
    [merge.id],
  )
  await q.rows(
    `with changed as (
       update contact c set ${columns.map((name) => `${name} = ${values[name]}`).join(', ')}, updated_at = $1
       from ${peopleOf(merge.id)} p where c.id = p.contact_id and ${merge.range} and not p.is_new and not p.suppressed
         and ${changesSql(merge.choices)} returning c.id)
     insert into activity (contact_id, kind, details, at)
     select id, 'contactChanged', jsonb_build_object('fields', jsonb_build_array('what the file says'), 'by', $2::text), $1
     from changed`,
    [merge.at, merge.by],
  )
}

/** The ledger of consent, for those who had not said the same before. */
async function writeConsents(q: Queries, merge: Merge): Promise<void> {
  const { permission, statement } = merge.choices
  if (permission === 'notAsked') return
  const agreed = permission === 'agreed'
  await q.rows(
    `with written as (
       insert into consent (contact_id, given, wording, source, at, import_id)
       select p.contact_id, $5, $1, $2, $3, $4 from ${peopleOf(merge.id)} p
       left join import_change ch on ch.import_id = $4 and ch.contact_id = p.contact_id
       where ${merge.range} and ${touched(merge)}
         and (p.is_new or ch.before->>'marketing_state' <> ch.after->>'marketing_state')
       returning contact_id)
     insert into activity (contact_id, kind, details, at)
     select contact_id, $6, case when $5 then jsonb_build_object('source', $2::text)
       else jsonb_build_object('by', 'team', 'import', $4::bigint) end, $3 from written`,
    [statement, merge.source, merge.at, merge.id, agreed, agreed ? 'consentGiven' : 'unsubscribed'],
  )
}

async function putTags(q: Queries, merge: Merge): Promise<void> {
  const starting = mayStart(merge.choices) && (await startsBy(q, 'tagAdded'))
  const added = await q.rows<{ contact: number; tag: number; activity: number }>(
    `with wanted as (
       select p.contact_id, t.tag from ${peopleOf(merge.id)} p cross join unnest($1::bigint[]) t (tag)
       where ${merge.range} and ${touched(merge)}
       union all select p.contact_id, tag.id from ${peopleOf(merge.id)} p
       cross join jsonb_array_elements_text(p.tags) t (name) join tag on tag.name_key = lower(t.name)
       where ${merge.range} and ${touched(merge)} and p.tags is not null),
     added as (
       insert into contact_tag (contact_id, tag_id, added_at, added_by)
       select contact_id, tag, $2, $3 from wanted on conflict do nothing returning contact_id, tag_id),
     noted as (
       insert into activity (contact_id, kind, details, at)
       select contact_id, 'tagAdded', jsonb_build_object('tag', tag_id, 'by', $3::text), $2 from added
       returning id, contact_id, details)
     select contact_id contact, (details->>'tag')::bigint tag, id activity from noted where $4`,
    [merge.tags, merge.at, merge.by, starting || (await isAwaited(q, 'tagAdded'))],
  )
  await wake(
    q,
    added.map(({ contact, tag }) => ({
      contact,
      kind: 'tagAdded',
      at: merge.at.getTime(),
      details: { tag, by: merge.by },
    })),
  )
  if (!starting) return
  await queueJobs(
    q,
    'startFollowups',
    added.map(({ contact, tag, activity }) => ({
      contact,
      activity,
      kind: 'tagAdded',
      details: { tag, by: merge.by },
      at: merge.at.getTime(),
    })),
  )
}

const mayStart = ({ startFollowups, permission }: ImportChoices): boolean =>
  startFollowups && permission !== 'refused'

/** Does any live follow-up begin by this? If none does, nobody needs to be looked at one by one. */
async function startsBy(q: Queries, kind: StartKind): Promise<boolean> {
  const live = await Followup.findAll({ where: { state: 'live' }, transaction: q.transaction ?? null })
  return live.some(({ program }) => program.startsWhen.some((rule) => rule.kind === kind))
}

/** Does anybody inside a follow-up wait for this? */
const isAwaited = async (q: Queries, kind: ActivityKind): Promise<boolean> =>
  (await q.row('select from waits_for where kind = $1 limit 1', [kind])) !== undefined

async function joinTopics(q: Queries, merge: Merge): Promise<void> {
  if (merge.choices.topics.length === 0 || merge.choices.permission !== 'agreed') return
  await q.rows(
    // Who once left a topic has said so: a file does not bring them back.
    `with joined as (
       insert into contact_topic (contact_id, topic_id, agreed, at, by)
       select p.contact_id, t.topic, true, $2, $3 from ${peopleOf(merge.id)} p cross join unnest($1::bigint[]) t (topic)
       where ${merge.range} and ${touched(merge)} on conflict do nothing returning contact_id, topic_id)
     insert into activity (contact_id, kind, details, at)
     select contact_id, 'topicJoined', jsonb_build_object('topic', topic_id, 'by', $3::text), $2 from joined`,
    [merge.choices.topics, merge.at, merge.by],
  )
}

/**
 * Writes an import, in the transaction of `q`: all of it or nothing. Its people must have been made out in the same
 * transaction.
 */
export async function mergePeopleIn(
  q: Queries,
  request: { id: number; fileName: string; choices: ImportChoices; at: Instant },
  progress: Progress,
): Promise<void> {
  const at = new Date(request.at)
  const tags = await tagsNamed(q, request.choices.tags, at)
  await q.rows(
    `insert into tag (name, created_at)
     select distinct on (lower(name)) name, $1::timestamptz
     from ${peopleOf(request.id)} p cross join jsonb_array_elements_text(p.tags) t (name) where p.tags is not null
     on conflict do nothing`,
    [at],
  )
  const last = await q.row<{ n: number }>(`select coalesce(max(n), 0) n from ${peopleOf(request.id)}`)
  for (let from = 0; from < (last?.n ?? 0); from += batch) {
    await progress.report('adding people', from, last?.n ?? null)
    const merge: Merge = {
      ...request,
      at,
      tags,
      by: `import ${request.id}`,
      source: `import of ${request.fileName}`,
      range: `p.n > ${from} and p.n <= ${from + batch}`,
    }
    await addNew(q, merge)
    await changeKnown(q, merge)
    await writeConsents(q, merge)
    await putTags(q, merge)
    await joinTopics(q, merge)
    const kind = request.choices.permission === 'refused' ? 'unsubscribed' : 'contactChanged'
    const people = await q.rows<{ contact: number }>(
      `select contact_id contact from ${peopleOf(request.id)} p where ${merge.range} and ${touched(merge)}
         and exists (select from scorecard where $1 or jsonb_array_length(card->'profile') > 0)`,
      [request.choices.permission === 'refused'],
    )
    await queueScoringAfter(
      q,
      people.map(({ contact }) => ({ contact, kind })),
    )
  }
}
