import type { Instant } from '../core/audience/people/activity.ts'
import type { Queries } from '../server/database/connect.ts'
import type { Life, Stage } from './lives.ts'

/** Lives written in one round of statements. */
const batch = 400

const iso = (at: Instant | null): string | null => (at === null ? null : new Date(at).toISOString())

/** Writes rows with the ids that the story gave them. */
async function insert(q: Queries, table: string, rows: readonly Record<string, unknown>[]): Promise<void> {
  const columns = Object.keys(rows[0] ?? {}).join(', ')
  if (columns === '') return
  await q.rows(
    `insert into ${table} (${columns}) overriding system value
     select ${columns} from json_populate_recordset(null::${table}, $1::json)`,
    [JSON.stringify(rows)],
  )
}

interface Numbers {
  contact: number
  message: number
}

/** The rows of one life, with its contact and messages numbered on from `last`. */
function rowsOf(life: Life, stage: Stage, followup: number, last: Numbers) {
  const contact = ++last.contact
  const firstMessage = last.message
  last.message += life.sent.length
  const failed = new Set(
    life.activities.flatMap((each) =>
      each.kind === 'emailFailed' && 'message' in each.details ? [each.details.message] : [],
    ),
  )
  return {
    contact: {
      id: contact,
      address: life.address,
      address_key: life.address,
      first_name: life.firstName,
      last_name: life.lastName,
      zone: life.zone,
      country: life.country,
      marketing_state: life.marketing,
      source: life.source,
      fields: life.fields,
      rehearsal: false,
      clock_ahead: 0,
      created_at: iso(life.createdAt),
      updated_at: iso(life.activities.at(-1)?.at ?? life.createdAt),
    },
    contact_tag: life.tags.map(({ tag, at, by }) => ({
      contact_id: contact,
      tag_id: tag,
      added_at: iso(at),
      added_by: by,
    })),
    contact_topic: life.topics.map(({ topic, at }) => ({
      contact_id: contact,
      topic_id: topic,
      agreed: true,
      at: iso(at),
      by: 'preferences page',
    })),
    consent: [
      {
        contact_id: contact,
        given: true,
        wording: stage.consentWording,
        source: stage.consentSource,
        at: iso(life.createdAt),
      },
    ],
    enrolment: {
      id: contact,
      followup_id: followup,
      contact_id: contact,
      started_at: iso(life.enrolment.startedAt),
      step: life.enrolment.step,
      due_at: iso(life.enrolment.dueAt),
      wakes_at: iso(life.enrolment.dueAt),
      ended_at: iso(life.endedAt),
    },
    decision: life.decisions.map(({ at, step, outcome, reason }) => ({
      enrolment_id: contact,
      contact_id: contact,
      step,
      outcome,
      reason,
      at: iso(at),
    })),
    message: life.sent.map(({ email, step, purpose, at }, i) => ({
      id: firstMessage + i + 1,
      email_id: email,
      contact_id: contact,
      enrolment_id: contact,
      step,
      purpose,
      state: failed.has(i + 1) ? 'failed' : 'sent',
      queued_at: iso(at),
      sent_at: failed.has(i + 1) ? null : iso(at),
      attempts: 1,
      problem: failed.has(i + 1) ? '5.1.1 No such mailbox' : null,
    })),
    activity: life.activities.map(({ kind, at, details }) => ({
      contact_id: contact,
      kind,
      at: iso(at),
      details:
        'message' in details ? { ...details, message: firstMessage + Number(details.message) } : details,
    })),
  }
}

/** Stores whole lives in an install that has no people yet. */
export async function storeLives(q: Queries, stage: Stage, lives: readonly Life[]): Promise<void> {
  const followup = await q.row<{ id: number }>(`select id from followup where name = 'Template pack'`)
  const last: Numbers = { contact: 0, message: 0 }
  for (let from = 0; from < lives.length; from += batch) {
    const rows = lives.slice(from, from + batch).map((life) => rowsOf(life, stage, followup?.id ?? 1, last))
    for (const table of [
      'contact',
      'contact_tag',
      'contact_topic',
      'consent',
      'enrolment',
      'decision',
      'message',
      'activity',
    ] as const)
      await insert(
        q,
        table,
        rows.flatMap((row): Record<string, unknown>[] => [row[table]].flat()),
      )
  }
  for (const table of ['contact', 'enrolment', 'message'])
    await q.rows(`select setval(pg_get_serial_sequence('${table}', 'id'), (select max(id) from ${table}))`)
}
