import type { DeadlineView } from '../../contract/deadlines.ts'
import type { Instant } from '../../core/audience/people/activity.ts'
import { deadline, deadlineEnds, type Deadline } from '../../core/commerce/deadline.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Database, Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'

/** A deadline of the Library. */
export interface KnownDeadline extends Deadline {
  id: number
}

/** When personal deadlines of somebody are over, by name. */
export type PersonalDeadlines = Readonly<Record<string, Instant>>

/** Every deadline, by its name. */
export async function loadDeadlines(q: Queries): Promise<KnownDeadline[]> {
  const rows = await q.rows<{ id: number; content: unknown }>(
    'select id, content from deadline order by name',
  )
  return rows.map(({ id, content }) => ({ ...deadline.parse(content), id }))
}

export const deadlineNames = async (q: Queries): Promise<string[]> =>
  (await q.rows<{ name: string }>('select name from deadline order by 1')).map(({ name }) => name)

/** The personal deadlines of people, by contact id; who has none is not among them. */
export async function deadlinesOf(
  q: Queries,
  contacts: readonly number[],
): Promise<Map<number, PersonalDeadlines>> {
  const rows = await q.rows<{ contact: number; offers: Record<string, number> }>(
    `select contact_id contact, json_object_agg(offer, floor(extract(epoch from ends_at) * 1000)) offers
     from personal_deadline where contact_id = any($1) group by 1`,
    [contacts],
  )
  return new Map(rows.map(({ contact, offers }) => [contact, offers]))
}

/** A deadline that begins for somebody. */
export interface Beginning {
  contact: number
  offer: string
  at: Instant
  endsAt: Instant
}

/** Begins deadlines; the first one of a person and offer stays. @param by what began them, for the journal */
export async function beginDeadlines(
  q: Queries,
  beginnings: readonly Beginning[],
  by: string,
): Promise<void> {
  if (beginnings.length === 0) return
  const begun = await q.rows<{ contact: number; offer: string; endsAt: Date }>(
    `insert into personal_deadline (contact_id, offer, ends_at)
     select * from unnest($1::bigint[], $2::text[], $3::timestamptz[]) on conflict do nothing
     returning contact_id contact, offer, ends_at "endsAt"`,
    [
      beginnings.map(({ contact }) => contact),
      beginnings.map(({ offer }) => offer),
      beginnings.map(({ endsAt }) => new Date(endsAt)),
    ],
  )
  const atOf = new Map(beginnings.map(({ contact, at }) => [contact, at]))
  await recordActivities(
    q,
    begun.map(({ contact, offer, endsAt }) => ({
      contact,
      kind: 'deadlineStarted',
      at: atOf.get(contact) ?? endsAt.getTime(),
      details: { offer, endsAt: endsAt.toISOString(), by },
    })),
  )
}

/** Begins the deadline of a page that somebody looks at. @returns all of theirs, this one among them */
export async function beginByVisit(
  q: Database,
  { name: offer, ...of }: Deadline,
  { contact, at, zone }: { contact: number; at: Instant; zone: string },
): Promise<PersonalDeadlines> {
  const endsAt = deadlineEnds(of, at, zone)
  await q.inTransaction((tx) => beginDeadlines(tx, [{ contact, offer, at, endsAt }], 'the first visit'))
  return (await deadlinesOf(q, [contact])).get(contact) ?? {}
}

/**
 * What is left of a deadline for somebody (ms), on their clock, and whether it runs. One that begins with a look or an
 * email has all of its time left before; another one nothing.
 * @returns null when there is no such deadline, or nobody of that id
 */
export async function timeLeftOf(
  { database: q, clock }: Pick<Platform, 'database' | 'clock'>,
  id: number,
  contact: number,
): Promise<{ left: number; runs: boolean } | null> {
  const known = await survivorOf(q, contact)
  const row =
    known &&
    (await q.row<{ content: unknown; endsAt: Date | null }>(
      `select content, ends_at "endsAt" from deadline
       left join personal_deadline on offer = name and contact_id = $2 where id = $1`,
      [id, known.id],
    ))
  if (!row) return null
  const now = personNow(clock, known)
  if (row.endsAt !== null) {
    const left = Math.max(0, row.endsAt.getTime() - now)
    return { left, runs: left > 0 }
  }
  const of = deadline.parse(row.content)
  const { zone } = await getBusiness(q)
  return { left: of.begins === 'followup' ? 0 : Math.max(0, deadlineEnds(of, now, zone) - now), runs: false }
}

/** Every deadline, with how many people it runs for, and how many it is over for. */
export async function listDeadlines(q: Queries, now: Instant): Promise<DeadlineView[]> {
  const rows = await q.rows<{ id: number; content: unknown; changedAt: Date; running: number; over: number }>(
    `select id, content, changed_at "changedAt", count(*) filter (where ends_at > $1)::int running,
       count(*) filter (where ends_at <= $1)::int "over"
     from deadline left join (select offer, ends_at from personal_deadline
       join contact on contact.id = contact_id where not rehearsal) personal on offer = name
     group by id order by name`,
    [new Date(now)],
  )
  return rows.map(({ content, changedAt, ...row }) => ({
    ...row,
    ...deadline.parse(content),
    changedAt: changedAt.toISOString(),
  }))
}

/** @throws Problem 409 when the name is taken */
export async function createDeadline(q: Queries, content: Deadline, { by, at }: Doing): Promise<number> {
  const row = await q.row<{ id: number }>(
    `insert into deadline (name, content, changed_at, changed_by) values ($1, $2, $3, $4)
     on conflict (name) do nothing returning id`,
    [content.name, JSON.stringify(content), at, by],
  )
  if (!row)
    throw new Problem(409, 'This name is taken', `There is a deadline “${content.name}”.`, {
      name: `There is a deadline “${content.name}”`,
    })
  await announce(q, 'pages')
  return row.id
}

/** Changes how a deadline goes from now on: who has one keeps it. @throws Problem 404, 409 for another name */
export async function saveDeadline(
  q: Queries,
  id: number,
  content: Deadline,
  { by, at }: Doing,
): Promise<void> {
  const row = await q.row<{ name: string }>('select name from deadline where id = $1 for update', [id])
  if (!row) throw notFound('This deadline')
  if (row.name !== content.name)
    throw new Problem(409, 'A deadline keeps its name', 'Pages, emails and follow-ups speak of it by it.', {
      name: `It stays “${row.name}”: pages, emails and follow-ups speak of it`,
    })
  await q.rows('update deadline set content = $2, changed_at = $3, changed_by = $4 where id = $1', [
    id,
    JSON.stringify(content),
    at,
    by,
  ])
  await announce(q, 'pages')
}

/** @throws Problem 404 */
export async function deleteDeadline(q: Queries, id: number): Promise<void> {
  if (!(await q.row('delete from deadline where id = $1 returning id', [id]))) throw notFound('This deadline')
  await announce(q, 'pages')
}
