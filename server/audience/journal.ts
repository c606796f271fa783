import type { JournalLine } from '../../contract/audience.ts'
import type { ActivityDetails, ActivityKind } from '../../core/audience/activity.ts'
import { tellActivity } from '../../core/audience/telling.ts'
import { referencesOfDetails } from '../../core/audience/references.ts'
import type { Queries } from '../database/connect.ts'
import { loadNames } from './names.ts'

/** Lines that the person view shows at once. */
const shown = 300

type Sort = JournalLine['sort']

/** What is not listed was done to a person's data. */
const sorts: Partial<Record<ActivityKind, Sort>> = {
  formSent: 'did',
  pageVisited: 'did',
  quizFinished: 'did',
  productBought: 'did',
  sessionRegistered: 'did',
  sessionAttended: 'did',
  addressConfirmed: 'did',
  confirmationAsked: 'mail',
  addressTaken: 'did',
  emailOpened: 'did',
  emailClicked: 'did',
  fileDownloaded: 'did',
  unsubscribed: 'did',
  mailPaused: 'did',
  emailSent: 'mail',
  emailHeld: 'mail',
  emailFailed: 'mail',
  followupStarted: 'followup',
  followupEnded: 'followup',
}

const outcomes: Record<string, string> = {
  sent: 'decided to send',
  skipped: 'did not send',
  waits: 'waits',
  took: 'took the lane',
  tagged: 'tagged',
  left: 'left',
  setAside: 'was set aside',
}

interface ActivityRow {
  id: number
  kind: ActivityKind
  details: ActivityDetails
  at: Date
  /** Who sent the broadcast that it speaks of, and to whom. */
  broadcast: { by: string; sentence: string } | null
}

function reasonOf({ details, broadcast }: ActivityRow): string {
  if (broadcast) return `broadcast by ${broadcast.by} to ${broadcast.sentence}`
  const known = details as {
    reason?: string
    by?: string
    fields?: string[]
    from?: string
    to?: string
    source?: string | Record<string, string>
  }
  if (known.reason) return known.reason
  if (typeof known.source === 'string') return `source: ${known.source}`
  if (known.source)
    return Object.entries(known.source)
      .map(([name, value]) => `${name} ${value}`)
      .join(', ')
  const parts = [...(known.fields ?? []), known.from && `from ${known.from}`, known.to && `to ${known.to}`]
  return [...parts, known.by && `by ${known.by}`].filter(Boolean).join(', ')
}

/**
 * In one instant (a rehearsal's clock stands still) first comes what the person did, then what was decided, then the
 * mail that follows from it. Sorting is stable: lines of one weight stay in the order of their own table.
 */
const weight = (sort: Sort): number => ['people', 'did', 'followup', 'mail'].indexOf(sort)

/** What one person did, and what was decided about them and why; newest first. */
export async function journalOf(q: Queries, contact: number): Promise<JournalLine[]> {
  const [activities, decisions] = await Promise.all([
    q.rows<ActivityRow>(
      `select activity.id, kind, details, at,
         case when broadcast.id is not null
           then json_build_object('by', broadcast.by, 'sentence', broadcast.sentence) end broadcast
       from (select * from activity where contact_id = $1 order by at desc, id desc limit ${shown}) activity
       left join broadcast on broadcast.id = (details->>'broadcast')::bigint
       order by at desc, activity.id desc`,
      [contact],
    ),
    q.rows<{ id: number; outcome: string; reason: string; at: Date; followup: string }>(
      `select decision.id, outcome, reason, at, followup.name followup
       from decision join enrolment on enrolment.id = enrolment_id join followup on followup.id = followup_id
       where decision.contact_id = $1 order by at desc, decision.id desc limit ${shown}`,
      [contact],
    ),
  ])
  const names = await loadNames(
    q,
    activities.flatMap(({ details }) => referencesOfDetails(details)),
  )
  const lines = [
    ...activities.map((row) => ({
      at: row.at,
      line: {
        id: `a${row.id}`,
        at: row.at.toISOString(),
        sort: sorts[row.kind] ?? 'people',
        title: tellActivity(row.kind, row.details, names),
        reason: reasonOf(row),
      },
    })),
    ...decisions.map((row) => ({
      at: row.at,
      line: {
        id: `d${row.id}`,
        at: row.at.toISOString(),
        sort: 'followup' as const,
        title: `${row.followup}: ${outcomes[row.outcome] ?? row.outcome}`,
        reason: row.reason,
      },
    })),
  ]
  return lines
    .sort((a, b) => b.at.getTime() - a.at.getTime() || weight(b.line.sort) - weight(a.line.sort))
    .slice(0, shown)
    .map(({ line }) => line)
}
