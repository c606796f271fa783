import type { Instant } from '../../core/audience/people/activity.ts'
import { hasJustDone, recordActivities } from '../audience/people/activities.ts'
import { personNow, survivorOf, type Contact } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { queueJobs } from '../work/jobs.ts'
import { currentFile, type CurrentFile } from './files.ts'

const day = 86_400_000

/** So often a day somebody can ask for the email with a file again. */
const mostAgain = 3

/**
 * The address of a download that is signed for one person, or for nobody in particular.
 * @param issuedAt when its days begin: now, or when the email went out that leads to it
 */
export function downloadUrl(
  platform: Platform,
  file: number,
  contact: number | null,
  issuedAt: Instant = platform.clock.now(),
): string {
  const token = platform.signer.sign('file', [file, contact ?? 0, issuedAt])
  return `${platform.settings.publicUrl}/files/${token}`
}

/** A download that was asked for. */
export interface Download {
  file: CurrentFile
  /** Who holds the link; null when it was made for nobody, or for somebody who was erased. */
  contact: Contact | null
  issuedAt: Instant | null
  /** Why the link is no longer good; null while it is. */
  over: 'expired' | 'usedUp' | null
}

async function isUsedUp(
  q: Queries,
  { id, mostDownloads }: CurrentFile,
  contact: Contact | null,
  issuedAt: Instant | null,
): Promise<boolean> {
  if (mostDownloads === null || issuedAt === null) return false
  const taken = await q.row<{ count: number }>(
    `select count(*) count from file_download
     where file_id = $1 and contact_id is not distinct from $2 and link_at = $3`,
    [id, contact?.id ?? null, new Date(issuedAt)],
  )
  return (taken?.count ?? 0) >= mostDownloads
}

/** What a signed address leads to. @throws Problem 404 when it was not made here, or the file is gone */
export async function readDownload(platform: Platform, token: string): Promise<Download> {
  const q = platform.database
  const [id, holder, issued] = (platform.signer.open('file', token) ?? []).map(Number)
  const file = id && holder !== undefined ? await currentFile(q, id) : undefined
  if (!file || holder === undefined) throw notFound('This file')
  const contact = (holder ? await survivorOf(q, holder) : undefined) ?? null
  // Links of the first releases say nothing of when they were made.
  const issuedAt = issued ?? null
  const expired = issuedAt !== null && platform.clock.now() - issuedAt > file.linkDays * day
  const over = expired ? 'expired' : (await isUsedUp(q, file, contact, issuedAt)) ? 'usedUp' : null
  return { file, contact, issuedAt, over }
}

/**
 * Writes down that a file was taken, unless the same person has just done so: programs fetch in several goes. A machine
 * uses a download up like anybody, so that nobody gets more by a name of their own, but is no person who did something.
 */
export async function recordDownload(
  platform: Platform,
  { file, contact, issuedAt }: Download,
  byMachine: boolean,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const who = contact ? await survivorOf(tx, contact.id, 'change') : undefined
    const at = who ? personNow(platform.clock, who) : platform.clock.now()
    if (who && !byMachine) {
      const activity = { contact: who.id, kind: 'fileDownloaded', at, details: { file: file.id } } as const
      if (await hasJustDone(tx, activity)) return
      await recordActivities(tx, [activity])
    }
    await tx.rows(
      'insert into file_download (file_id, version, contact_id, link_at, at) values ($1, $2, $3, $4, $5)',
      [file.id, file.version, who?.id ?? null, issuedAt === null ? null : new Date(issuedAt), new Date(at)],
    )
    await announce(tx, 'audience')
  })
}

/**
 * Sends whoever holds an old link an email with a new one, a few times a day at most.
 * @returns whether it goes out; not to somebody who is not known any more
 */
export async function sendAgain(platform: Platform, { file, contact }: Download): Promise<boolean> {
  if (!contact) return false
  return platform.database.inTransaction(async (tx) => {
    const who = await survivorOf(tx, contact.id, 'change')
    if (!who) return false
    const at = personNow(platform.clock, who)
    const sent = await tx.row<{ count: number }>(
      `select count(*) count from activity
       where contact_id = $1 and kind = 'fileSent' and at > $2 and details @> jsonb_build_object('file', $3::bigint)`,
      [who.id, new Date(at - day), file.id],
    )
    if ((sent?.count ?? 0) >= mostAgain) return false
    await recordActivities(tx, [{ contact: who.id, kind: 'fileSent', at, details: { file: file.id } }])
    await queueJobs(tx, 'sendFile', [{ contact: who.id, file: file.id }])
    return true
  })
}
