import { hasJustDone, recordActivities } from '../audience/people/activities.ts'
import { personNow, survivorOf } from '../audience/people/contacts.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { StoredFile } from './models.ts'

/** The address of a download that is signed for one person. */
export function downloadUrl(platform: Platform, file: number, contact: number): string {
  return `${platform.settings.publicUrl}/files/${platform.signer.sign('file', [file, contact])}`
}

/** The file of a signed address; writes down who downloaded it. @throws Problem 404 */
export async function downloadFile(platform: Platform, token: string): Promise<StoredFile> {
  const [file, id] = (platform.signer.open('file', token) ?? []).map(Number)
  const found = file && id ? await StoredFile.findByPk(file) : null
  if (!found || !id) throw notFound('This file')
  await platform.database.inTransaction(async (tx) => {
    const contact = await survivorOf(tx, id, 'change')
    // Who was erased may still hold the link: they get the file, and nothing is written down.
    if (!contact) return
    const at = personNow(platform.clock, contact)
    const download = {
      contact: contact.id,
      kind: 'fileDownloaded',
      at,
      details: { file: found.id },
    } as const
    if (await hasJustDone(tx, download)) return
    await recordActivities(tx, [download])
    await announce(tx, 'audience')
  })
  return found
}
