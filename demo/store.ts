import type { Instant } from '../core/audience/people/activity.ts'
import type { Queries } from '../server/database/connect.ts'
import type { Person } from './person.ts'

/** People written in one round of statements. */
const batch = 400

const tables = [
  'contact',
  'contact_tag',
  'contact_topic',
  'consent',
  'enrolment',
  'decision',
  'message',
  'activity',
] as const
type Rows = Record<(typeof tables)[number], Record<string, unknown>[]>

const iso = (at: Instant | null): string | null => (at === null ? null : new Date(at).toISOString())

/** Takes so many ids from the sequence of a table. */
async function reserveIds(
  q: Queries,
  table: 'contact' | 'enrolment' | 'message',
  count: number,
): Promise<Iterator<number>> {
  const rows = await q.rows<{ id: number }>(
    `select nextval(pg_get_serial_sequence($1, 'id')) id from generate_series(1, $2::int)`,
    [table, count],
  )
  return rows.map(({ id }) => id).values()
}

function take(ids: Iterator<number>): number {
  const next = ids.next()
  if (next.done) throw new RangeError('too few ids were reserved')
  return next.value
}

interface Ids {
  contact: Iterator<number>
  enrolment: Iterator<number>
  message: Iterator<number>
}

/** The rows of one person, by table. */
function rowsOf(person: Person, ids: Ids): Rows {
  const contact = take(ids.contact)
  const enrolments = person.walks.map(() => take(ids.enrolment))
  const messages = person.sent.map(() => take(ids.message))
  const failed = new Set(
    person.all('emailFailed').flatMap(({ details }) => ('message' in details ? [details.message] : [])),
  )
  return {
    contact: [
      {
        id: contact,
        address: person.address,
        address_key: person.address,
        first_name: person.firstName,
        last_name: person.lastName,
        zone: person.zone,
        country: person.country,
        marketing_state: person.marketing,
        source: person.source,
        fields: person.fields,
        rehearsal: false,
        clock_ahead: 0,
        created_at: iso(person.arrival),
        updated_at: iso(person.activities.at(-1)?.at ?? person.arrival),
      },
    ],
    contact_tag: person.tags.map(({ tag, at, by }) => ({
      contact_id: contact,
      tag_id: tag,
      added_at: iso(at),
      added_by: by,
    })),
    contact_topic: person.topics.map(({ topic, at }) => ({
      contact_id: contact,
      topic_id: topic,
      agreed: true,
      at: iso(at),
      by: 'preferences page',
    })),
    consent: person.consents.map(({ wording, source, at }) => ({
      contact_id: contact,
      given: true,
      wording,
      source,
      at: iso(at),
    })),
    enrolment: person.walks.map(({ followup, enrolment, endedAt }, i) => ({
      id: enrolments[i],
      followup_id: followup,
      contact_id: contact,
      started_at: iso(enrolment.startedAt),
      step: enrolment.step,
      due_at: iso(enrolment.dueAt),
      wakes_at: iso(enrolment.dueAt),
      ended_at: iso(endedAt),
    })),
    decision: person.walks.flatMap(({ decisions }, i) =>
      decisions.map(({ at, step, outcome, reason }) => ({
        enrolment_id: enrolments[i],
        contact_id: contact,
        step,
        outcome,
        reason,
        at: iso(at),
      })),
    ),
    message: person.sent.map(({ walk, email, step, purpose, at }, i) => ({
      id: messages[i],
      email_id: email,
      contact_id: contact,
      enrolment_id: enrolments[walk],
      step,
      purpose,
      state: failed.has(i + 1) ? 'failed' : 'sent',
      queued_at: iso(at),
      sent_at: failed.has(i + 1) ? null : iso(at),
      attempts: 1,
      problem: failed.has(i + 1) ? '5.1.1 No such mailbox' : null,
    })),
    activity: person.activities.map(({ kind, at, details }) => ({
      contact_id: contact,
      kind,
      at: iso(at),
      details:
        'message' in details ? { ...details, message: messages[Number(details.message) - 1] } : details,
    })),
  }
}

/** Writes rows with the ids that were reserved for them. */
async function insert(
  q: Queries,
  table: keyof Rows,
  rows: readonly Record<string, unknown>[],
): Promise<void> {
  const columns = Object.keys(rows[0] ?? {}).join(', ')
  if (columns === '') return
  await q.rows(
    `insert into ${table} (${columns}) overriding system value
     select ${columns} from json_populate_recordset(null::${table}, $1::json)`,
    [JSON.stringify(rows)],
  )
}

async function storeBatch(q: Queries, people: readonly Person[]): Promise<void> {
  const count = (of: (person: Person) => readonly unknown[]): number =>
    people.reduce((sum, person) => sum + of(person).length, 0)
  const ids: Ids = {
    contact: await reserveIds(q, 'contact', people.length),
    enrolment: await reserveIds(
      q,
      'enrolment',
      count(({ walks }) => walks),
    ),
    message: await reserveIds(
      q,
      'message',
      count(({ sent }) => sent),
    ),
  }
  const rows = people.map((person) => rowsOf(person, ids))
  for (const table of tables)
    await insert(
      q,
      table,
      rows.flatMap((row) => row[table]),
    )
}

/** Stores people with all that happened to them, some at a time: there may be a million. */
export async function storePeople(q: Queries, people: Iterable<Person>): Promise<void> {
  let waiting: Person[] = []
  for (const person of people) {
    waiting.push(person)
    if (waiting.length < batch) continue
    await storeBatch(q, waiting)
    waiting = []
  }
  if (waiting.length > 0) await storeBatch(q, waiting)
}
