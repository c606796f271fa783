import type { EnrolmentView } from '../../contract/followups.ts'
import type { Platform } from '../platform.ts'
import { nextEmails } from './departures.ts'
import { claimedColumns, type ClaimedEnrolment } from './claimedEnrolment.ts'

/** Where one person is and was, those first that they are inside of. */
export async function enrolmentsOf(platform: Platform, contact: number): Promise<EnrolmentView[]> {
  const rows = await platform.database.rows<ClaimedEnrolment & { name: string; endedAt: Date | null }>(
    `select ${claimedColumns}, followup.name, ended_at "endedAt"
     from enrolment join contact on contact.id = contact_id join followup on followup.id = followup_id
     where contact_id = $1 order by ended_at is not null, started_at desc`,
    [contact],
  )
  const next = await nextEmails(
    platform,
    rows.filter((row) => row.endedAt === null),
  )
  return rows.map((row) => ({
    id: row.id,
    followup: { id: row.followup, name: row.name },
    startedAt: new Date(row.startedAt).toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
    dueAt: row.dueAt === null ? null : new Date(row.dueAt).toISOString(),
    next: next.get(row.id) ?? null,
  }))
}
