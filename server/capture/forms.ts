import type { FormSubmission } from '../../contract/capture.ts'
import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { findOrCreateContact, personNow } from '../audience/people/contacts.ts'
import { addressHash, isSuppressed } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { askForConfirmation } from './confirmations.ts'
import { fulfilForm, type FormOf } from './fulfilment.ts'

const hour = 3_600_000

/** What one address asks of one page is sent at most so often: a stranger must not fill somebody's mailbox. */
const deliveryPause = hour

/**
 * Uses up a form's token, before anything is looked up or made.
 * @returns `repeated` when this very sending came before, `used` when the token was for another address
 */
async function useToken(
  q: Queries,
  sending: { token: string; page: number; hash: Buffer; at: Date },
): Promise<'new' | 'repeated' | 'used'> {
  const { token, page, hash, at } = sending
  const first = await q.row(
    `insert into form_sending (token, page_id, address_hash, at) values ($1, $2, $3, $4)
     on conflict do nothing returning token`,
    [token, page, hash, at],
  )
  if (first) return 'new'
  const earlier = await q.row<{ same: boolean }>(
    'select address_hash is not distinct from $2 same from form_sending where token = $1',
    [token, hash],
  )
  return earlier?.same ? 'repeated' : 'used'
}

/** Did this address ask the same page for something a short time ago? Sendings that led to nothing do not count. */
async function hasJustAsked(q: Queries, page: number, hash: Buffer, now: Instant): Promise<boolean> {
  const found = await q.row(
    `select from form_sending where address_hash = $1 and page_id = $2 and at > $3 and contact_id is not null limit 1`,
    [hash, page, new Date(now - deliveryPause)],
  )
  return found !== undefined
}

/**
 * Takes in a form that a visitor sent, in one transaction. Whoever is new, or is subscribed already, gets what they
 * asked for. Everybody else on the list (who unsubscribed, complained, was erased or refused, or was never asked) is
 * asked by one email first, since anybody may have typed their address; until they say yes, nothing of them changes.
 * @returns `used` when the token was used up by another sending: the form asks to be sent once more; else whom it put
 * on the list, if they were not there
 */
export async function submitForm(
  platform: Platform,
  form: FormOf,
  submission: FormSubmission,
  ip: string | null,
): Promise<'used' | { added: number | null }> {
  const { clock, settings } = platform
  const hash = addressHash(settings.secret, submission.address.key)
  return platform.database.inTransaction(async (tx) => {
    const now = clock.now()
    const { token, address, firstName, source } = submission
    const use = await useToken(tx, { token, page: form.page, hash, at: new Date(now) })
    if (use !== 'new') return use === 'used' ? 'used' : { added: null }

    const suppressed = await isSuppressed(tx, hash)
    const contact = await findOrCreateContact(tx, address, now)
    if (!contact.isNew && (await hasJustAsked(tx, form.page, hash, now))) return { added: null }
    await tx.rows('update form_sending set contact_id = $2 where token = $1', [token, contact.id])

    const at = personNow(clock, contact)
    if (contact.isNew)
      await recordActivities(tx, [{ contact: contact.id, kind: 'contactAdded', at, details: { by: 'form' } }])
    const asked = { ...form, firstName, source, ip }
    const counts = contact.isNew || contact.rehearsal || contact.marketingState === 'subscribed'
    if (counts && !suppressed) await fulfilForm(tx, contact, asked, at)
    else await askForConfirmation(tx, contact, asked, at)
    await announce(tx, 'audience')
    return { added: contact.isNew && !suppressed ? contact.id : null }
  })
}
