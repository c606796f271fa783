import type { Instant } from '../../core/audience/people/activity.ts'
import type { Address } from '../../core/audience/people/address.ts'
import type { Answers } from '../../core/capture/answers.ts'
import { mustConfirm } from '../../core/capture/mustConfirm.ts'
import { findOrCreateContacts, type FoundContact } from '../audience/people/contacts.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import { personNow } from '../audience/people/contacts.ts'
import { addressHash } from '../audience/people/suppression.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { finishTake } from '../quizzes/finishing.ts'
import { askForConfirmations } from './confirmations.ts'
import { fulfilForms, newContactOf, type AskedFor } from './fulfilment.ts'

const hour = 3_600_000

/** What one address asks of one form is sent at most so often: a stranger must not fill somebody's mailbox. */
const deliveryPause = hour

/** Who sends a form again so soon has pressed twice, or gone back; later it may be somebody else at that browser. */
const pressedAgain = 10 * 60_000

/** A form as somebody sent it. */
export interface Sending extends AskedFor {
  answers: Answers & { address: Address }
  /** Made for one view of the form, and used up by one sending. */
  token: string
  /** Of the browser, for forms that are confirmed by country. */
  country: string | null
  /** Whoever sends it came by a link of their own mail, and means themselves. */
  proven: boolean
}

/** What came of a sending: nothing yet, since its token was used by another one; or whom it put on the list, and whom it is about. */
export type Taken = 'used' | { added: number | null; waits: boolean; contact: number | null }

type Use = 'new' | 'repeated' | 'used'

/** Another process has taken in the same sending at the same moment: nothing of it was done here. */
export class TakenElsewhere extends Error {}

/** Uses up tokens, each with whom its form was about, if that led to something. @throws TakenElsewhere */
async function useTokens(
  q: Queries,
  uses: readonly { sending: Sending; hash: Buffer; contact: number | null }[],
  at: Date,
): Promise<void> {
  const made = await q.rows(
    `insert into form_sending (token, form_id, address_hash, page_id, source_ip, contact_id, at)
     select token, form, hash, page, ip, contact, $7
     from unnest($1::text[], $2::bigint[], $3::bytea[], $4::bigint[], $5::inet[], $6::bigint[])
       t (token, form, hash, page, ip, contact)
     order by token on conflict do nothing returning token`,
    [
      uses.map(({ sending }) => sending.token),
      uses.map(({ sending }) => sending.form.id),
      uses.map(({ hash }) => hash),
      uses.map(({ sending }) => sending.place.page ?? null),
      uses.map(({ sending }) => sending.ip),
      uses.map(({ contact }) => contact),
      at,
    ],
  )
  if (made.length < uses.length) throw new TakenElsewhere('a token was used meanwhile')
}

interface Circumstances {
  /** Was its token used before: by this very sending (`repeated`), or for another address (`used`)? */
  use: Use
  /** Must the address not come back by itself? */
  suppressed: boolean
  /** Has it asked this form for something a short time ago? Sendings that led to nothing do not count. */
  justAsked: boolean
  fromSource: number
  /** Whom a repeated sending is about, and whether it was the first time that put them on the list. */
  sent: { contact: number; added: boolean } | null
}

/** What else decides about each sending, in one statement. */
async function circumstancesOf(
  q: Queries,
  sendings: readonly Sending[],
  hashes: readonly Buffer[],
  now: Instant,
): Promise<Circumstances[]> {
  const unsure = sendings.some(({ form }) => form.content.confirm.when === 'whenUnsure')
  return q.rows<Circumstances>(
    `select coalesce((select case when address_hash is not distinct from hash then 'repeated' else 'used' end
         from form_sending where form_sending.token = given.token), 'new') use,
       exists (select from suppression where address_hash = hash) suppressed,
       exists (select from form_sending where address_hash = hash and form_id = form and at > $5 and contact_id is not null
         and form_sending.token <> given.token) "justAsked",
       case when $6 then (select count(*) from form_sending where source_ip = ip and at > $7) else 0 end "fromSource",
       (select json_build_object('contact', contact.id, 'added', contact.created_at = form_sending.at and form_sending.at > $9)
         from form_sending join contact on address_key = key
         where form_sending.token = given.token and address_hash = hash) sent
     from unnest($1::text[], $2::bigint[], $3::bytea[], $4::inet[], $8::text[]) with ordinality
       given (token, form, hash, ip, key, n)
     order by n`,
    [
      sendings.map(({ token }) => token),
      sendings.map(({ form }) => form.id),
      hashes,
      sendings.map(({ ip }) => ip),
      new Date(now - deliveryPause),
      unsure,
      new Date(now - hour),
      sendings.map(({ answers }) => answers.address.key),
      new Date(now - pressedAgain),
    ],
  )
}

/** Does what was typed, or what the form is, ask for a confirmation? */
const asksToConfirm = (
  { form, answers, country, place, proven }: Sending,
  { fromSource }: Circumstances,
): boolean =>
  !proven &&
  mustConfirm(form.content, {
    address: answers.address.key,
    country: answers.country ?? country,
    site: place.site ?? null,
    fromSource,
  })

interface Decided {
  sending: Sending
  contact: FoundContact
  circumstances: Circumstances
  waits: boolean
  at: Instant
}

/**
 * Does a form count at once? Whoever is new, or is subscribed already, gets what they asked for. Everybody else on the
 * list (who unsubscribed, complained, was erased or refused, or was never asked) is asked by one email first, since
 * anybody may have typed their address; until they say yes, nothing of them changes.
 */
function countsAtOnce({ sending, contact, circumstances: { suppressed }, waits }: Decided): boolean {
  if (contact.rehearsal && !waits) return true
  if (suppressed) return false
  if (contact.marketingState === 'bounced') return false
  return sending.proven || contact.marketingState === 'subscribed' || (contact.isNew && !waits)
}

/**
 * Takes in forms that visitors sent, in one transaction: with one statement for all of them where one by one would
 * take as many.
 * @param sendings of different tokens and addresses
 */
export async function takeForms(platform: Platform, sendings: readonly Sending[]): Promise<Taken[]> {
  const { clock, settings, database } = platform
  const hashes = sendings.map(({ answers }) => addressHash(settings.secret, answers.address.key))
  return database.inTransaction(async (tx) => {
    const now = clock.now()
    const circumstances = await circumstancesOf(tx, sendings, hashes, now)
    const all = sendings.map((sending, i) => {
      const about = circumstances[i] ?? {
        use: 'used',
        suppressed: true,
        justAsked: true,
        fromSource: 0,
        sent: null,
      }
      const waits = asksToConfirm(sending, about)
      // Whose form counts at once, if they are new.
      const known = waits || about.suppressed ? undefined : newContactOf(sending)
      const hash = hashes[i] ?? Buffer.alloc(0)
      return { sending, hash, circumstances: about, waits, known }
    })
    const fresh = all.filter(({ circumstances: { use } }) => use === 'new')
    const contacts = await findOrCreateContacts(
      tx,
      fresh.map(({ sending, known }) => ({ address: sending.answers.address, ...(known && { known }) })),
      now,
    )
    const contactOf = new Map(fresh.map(({ sending }, i) => [sending.token, contacts[i]]))
    const decided = fresh.flatMap(({ sending, ...rest }): Decided[] => {
      const contact = contactOf.get(sending.token)
      return contact && (contact.isNew || !rest.circumstances.justAsked)
        ? [{ ...rest, sending, contact, at: personNow(clock, contact) }]
        : []
    })
    const decidedOf = new Map(decided.map(({ sending, contact }) => [sending.token, contact.id]))
    await useTokens(
      tx,
      fresh.map(({ sending, hash }) => ({ sending, hash, contact: decidedOf.get(sending.token) ?? null })),
      new Date(now),
    )
    const counting = decided.filter(countsAtOnce)
    await fulfilForms(
      tx,
      counting.map(({ sending, contact, at }) => ({
        contact,
        asked: sending,
        at,
        confirmedAt: null,
        trusted: sending.proven,
        described: contact.isNew,
      })),
    )
    for (const { sending, contact, at } of counting)
      if (sending.take !== undefined) {
        const trusted = sending.proven || contact.isNew
        await finishTake(platform, tx, { take: sending.take, contact: contact.id, at, trusted })
      }
    const asking = decided.filter((each) => !counting.includes(each))
    await recordActivities(
      tx,
      asking.flatMap(({ contact, at }): NewActivity[] =>
        contact.isNew ? [{ contact: contact.id, kind: 'contactAdded', at, details: { by: 'form' } }] : [],
      ),
    )
    await askForConfirmations(
      tx,
      asking.map(({ sending, contact, at }) => ({ contact, asked: sending, token: sending.token, at })),
    )
    return all.map(({ sending, waits, circumstances: { use, suppressed, sent } }): Taken => {
      if (use === 'used') return 'used'
      // Who presses twice gets the second answer: it says the same as the first.
      const found = contactOf.get(sending.token)
      const about = found ? { contact: found.id, added: found.isNew } : sent
      const isAdded = about?.added === true && !suppressed && !waits
      return { added: isAdded ? about.contact : null, waits, contact: about?.contact ?? null }
    })
  })
}
