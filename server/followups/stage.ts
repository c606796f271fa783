import type { RehearsalStage } from '../../contract/followups.ts'
import { forgetTrials } from '../commerce/forgetting.ts'
import { deleteContact } from '../audience/people/erasing.ts'
import { giveConsent } from '../audience/people/permission.ts'
import type { Queries } from '../database/connect.ts'
import { emptyMailbox, listMailOf } from '../email/testInbox.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import { readerMark } from '../pages/readers.ts'
import type { WebPlatform } from '../platform.ts'
import { rehearsingContact, waitForWhatIsUnderWay } from './rehearsal.ts'

/**
 * The live pages, by links that lead there as this person comes to them by a link of their mail: under the name of the
 * application, which alone may show them in a frame.
 */
async function pagesFor(platform: WebPlatform, contact: number): Promise<RehearsalStage['pages']> {
  const pages = await platform.database.rows<{ name: string; path: string }>(
    `select name, path from page where published_version is not null and archived_at is null
     order by lower(name), id limit 500`,
  )
  const mark = readerMark(platform, contact)
  return pages.map(({ name, path }) => ({
    name,
    url: `/p/${path}?me=${mark}`,
  }))
}

/** What somebody in rehearsal has before them. @throws Problem 404, 409 when they are not in rehearsal */
export async function viewStage(platform: WebPlatform, id: number): Promise<RehearsalStage> {
  const contact = await rehearsingContact(platform.database, id)
  const mail = await listMailOf(platform.settings, contact.address).catch((error: unknown) => {
    if (error instanceof Problem) return error
    throw error
  })
  return {
    mail: Array.isArray(mail)
      ? mail.map(({ id: message, subject, sentAt, receivedAt }) => ({
          id: message,
          subject,
          at: sentAt ?? receivedAt,
        }))
      : [],
    mailProblem: Array.isArray(mail) ? null : mail.message,
    pages: await pagesFor(platform, id),
  }
}

/** What they agreed to who are made up. */
const madeUp = 'Made up for a rehearsal'

/** What stays of somebody who starts over: who they are, and that they are made up. */
const kept = `address, address_key, first_name, last_name, zone, country, phone, language, fields, rehearsal`

async function bringBack(q: Queries, id: number, now: Date): Promise<void> {
  const [row] = await q.rows<{ row: unknown }>('select to_json(contact) "row" from contact where id = $1', [
    id,
  ])
  await forgetTrials(q, id)
  await deleteContact(q, id)
  await q.rows(
    `insert into contact (id, ${kept}, created_at, updated_at) overriding system value
     select id, ${kept}, $2, $2 from json_populate_record(null::contact, $1::json)`,
    [JSON.stringify(row?.row), now],
  )
}

/**
 * Takes away all that a rehearsal left: journal, mail, tags, consent, scores, follow-ups, and the time by which the
 * clock went ahead. The person stays with name, address and fields, as if they had never been here.
 * @param agreed may they be written to already, as somebody who signed up elsewhere?
 * @throws Problem 404, 409 when they are not in rehearsal, or something is on its way to them; 503 when their mailbox cannot be emptied, and nothing is lost
 */
export async function startOver(
  platform: WebPlatform,
  id: number,
  { agreed, by }: { agreed: boolean; by: string },
): Promise<void> {
  await rehearsingContact(platform.database, id)
  // What begins later would begin for who starts anew: they keep their number.
  await waitForWhatIsUnderWay(platform, id)
  const at = platform.clock.now()
  await platform.database.inTransaction(async (tx) => {
    const { address } = await rehearsingContact(tx, id, 'remove')
    await bringBack(tx, id, new Date(at))
    if (agreed)
      await giveConsent(tx, { contact: id, wording: madeUp, source: `started over by ${by}`, ip: null, at })
    await emptyMailbox(platform.settings, address)
    await announce(tx, 'audience', 'followups', 'email')
  })
}
