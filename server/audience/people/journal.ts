import type { JournalLine } from '../../../contract/audience/people.ts'
import type { ActivityDetails, ActivityKind } from '../../../core/audience/people/activity.ts'
import { activityTraits } from '../../../core/audience/people/activityTraits.ts'
import { describeActivity } from '../../../core/audience/segments/describe.ts'
import { referencesOfDetails } from '../../../core/audience/segments/references.ts'
import type { Outcome } from '../../../core/followups/enrolment.ts'
import type { Queries } from '../../database/connect.ts'
import { loadNames } from '../segments/names.ts'

/** Lines that the person view shows at once. */
const shown = 300

const outcomes: Record<Outcome, string> = {
  sent: 'decided to send',
  skipped: 'did not send',
  waits: 'waits',
  took: 'took the lane',
  tagged: 'tagged',
  did: 'did',
  jumped: 'jumped ahead',
  moved: 'was moved',
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

function reasonOf({ kind, details, broadcast }: ActivityRow): string {
  // Its own time tells where the clock went.
  if (kind === 'clockMoved') return ''
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
const weight: Record<JournalLine['category'], number> = { people: 0, did: 1, followup: 2, mail: 3 }

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
    q.rows<{ id: number; outcome: Outcome; reason: string; at: Date; followup: string }>(
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
        category: activityTraits[row.kind].category,
        title: describeActivity(row.kind, row.details, names),
        reason: reasonOf(row),
      },
    })),
    ...decisions.map((row) => ({
      at: row.at,
      line: {
        id: `d${row.id}`,
        at: row.at.toISOString(),
        category: 'followup' as const,
        title: `${row.followup}: ${outcomes[row.outcome]}`,
        reason: row.reason,
      },
    })),
  ]
  return lines
    .sort((a, b) => b.at.getTime() - a.at.getTime() || weight[b.line.category] - weight[a.line.category])
    .slice(0, shown)
    .map(({ line }) => line)
}
