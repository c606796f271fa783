import { survivorOf } from '../audience/people/contacts.ts'
import { deleteContact } from '../audience/people/erasing.ts'
import { endWaiting } from '../audience/people/permission.ts'
import { addressHashSql } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { confirmationLasts } from './confirmations.ts'

const day = 24 * 3_600_000

/** Who was not on the list and never confirmed is erased after so long. */
const waitingLasts = 30 * day

/** One more email goes out after so long, where the form asks for that. */
const remindAfter = day

/** Writes once more to those who have not confirmed yet, where their form asks for it: the work of `remindWaiting`. */
export async function remindWaiting({ database, clock }: Platform): Promise<void> {
  const now = clock.now()
  await database.inTransaction(async (tx) => {
    const due = await tx.rows<{ id: number }>(
      `update confirmation set reminded_at = $1
       from form_version where form_version.form_id = confirmation.form_id and number = form_version
         and (content#>>'{confirm,remind}')::boolean and content#>>'{confirm,when}' <> 'never'
         and confirmed_at is null and reminded_at is null and asked_at between $2 and $3
       returning confirmation.id`,
      [new Date(now), new Date(now - confirmationLasts), new Date(now - remindAfter)],
    )
    await queueJobs(
      tx,
      'sendConfirmation',
      due.map(({ id }) => ({ confirmation: id })),
    )
  })
}

interface Late {
  contact: number
  /** They were on the list before. */
  known: boolean
  suppressed: boolean
  askedAt: number
}

/** Counts whom nobody will be able to name any more, by form and where they came from. */
async function countForgotten(q: Queries, contact: number): Promise<void> {
  await q.rows(
    `insert into confirmation_forgotten (form_id, source, day, people)
     select form_id, coalesce(site, source->>'utm_source', ''), asked_at::date, 1 from confirmation
     where contact_id = $1 and confirmed_at is null
     on conflict (form_id, source, day) do update set people = confirmation_forgotten.people + 1`,
    [contact],
  )
}

/** Ends one wait: who was on the list is again what they were, who was not is erased. */
async function endWait(platform: Platform, { contact: id, known }: Late): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await survivorOf(tx, id, 'remove')
    if (!contact) return
    if (!known && contact.marketingState === 'waiting') {
      await countForgotten(tx, id)
      await deleteContact(tx, id)
    } else {
      await endWaiting(tx, [id])
      await tx.rows('delete from confirmation where contact_id = $1 and confirmed_at is null', [id])
    }
    await announce(tx, 'audience')
  })
}

/**
 * Ends what nobody confirmed in time, and forgets tokens that no form can use any more. Somebody who was forgotten before and did not ask to be known again is forgotten as soon as their link is. A part of `maintenance`.
 */
export async function endConfirmations(platform: Platform): Promise<void> {
  const { database, clock, settings } = platform
  const now = clock.now()
  const late = await database.rows<Late>(
    `select contact_id contact, bool_and(state_before is not null) known,
       bool_or(exists (select from suppression where address_hash = ${addressHashSql('$2', 'contact.address_key')})) suppressed,
       floor(extract(epoch from max(asked_at)) * 1000)::bigint "askedAt"
     from confirmation join contact on contact.id = contact_id
     where confirmed_at is null group by 1 having max(asked_at) < $1 order by 1`,
    [new Date(now - confirmationLasts), settings.secret],
  )
  for (const each of late)
    if (each.known || each.suppressed || now - each.askedAt > waitingLasts) await endWait(platform, each)
  await database.rows('delete from form_sending where at < $1', [new Date(now - 2 * day)])
}
