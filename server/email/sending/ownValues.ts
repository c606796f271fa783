import type { Instant } from '../../../core/audience/people/activity.ts'
import { fieldKey } from '../../../core/blocks/mergeText.ts'
import {
  cartName,
  couponName,
  mergeNameOfCountdown,
  mergeNameOfDeadline,
  type MergedPerson,
} from '../../../core/blocks/mergeValues.ts'
import { deadlineEnds } from '../../../core/commerce/deadline.ts'
import { namesFields, templateName } from '../../../core/email/emailTemplate.ts'
import { openCodesOf } from '../../commerce/couponCodes.ts'
import { deadlinesOf, loadDeadlines, type Beginning, type KnownDeadline } from '../../commerce/deadlines.ts'
import { cartWords } from '../../commerce/openCarts.ts'
import type { Queries } from '../../database/connect.ts'
import { getBusiness } from '../../workspace/business.ts'
import type { ClaimedMessage, SendableVersion } from './claimed.ts'

/** What is each reader's own in emails: what is in their cart, a code that was made for them, their deadlines. */
export interface OwnValues {
  of(message: ClaimedMessage, at: Instant): Pick<MergedPerson, 'cart' | 'coupon' | 'deadlines'>
  /** The deadlines that begin with this message: those that it shows and that begin with an email. */
  begins(message: ClaimedMessage, at: Instant): Beginning[]
}

const names = ({ subject, html, text }: SendableVersion, name: string): boolean =>
  [subject, html ?? '', text].some((each) => each.includes(templateName(fieldKey(name))))

const showsDeadline = (version: SendableVersion, { name }: KnownDeadline): boolean =>
  names(version, mergeNameOfDeadline(name)) || names(version, mergeNameOfCountdown(name))

/** Loads what these messages name of it, and nothing else: most emails name none of it. */
export async function loadOwnValues(
  q: Queries,
  messages: readonly ClaimedMessage[],
  versions: readonly SendableVersion[],
  now: Instant,
): Promise<OwnValues> {
  const contacts = [...new Set(messages.map(({ contact }) => contact.id))]
  const named = (name: string): boolean => versions.some((version) => names(version, name))
  const carts = named(cartName) ? await cartWords(q, contacts) : null
  const codes = named(couponName)
    ? await openCodesOf(
        q,
        messages.map(({ contact }) => ({ contact: contact.id, now: now + contact.clockAhead })),
      )
    : null
  const namesAny = versions.some(({ subject, html, text }) => [subject, html ?? '', text].some(namesFields))
  const all = namesAny ? await loadDeadlines(q) : []
  const shown = new Map(
    versions.map((version) => [
      `${version.emailId} ${version.version}`,
      all.filter((each) => showsDeadline(version, each)),
    ]),
  )
  const { zone } = await getBusiness(q)
  const begun = [...shown.values()].some((each) => each.length > 0) ? await deadlinesOf(q, contacts) : null
  const begins = ({ emailId, version, contact }: ClaimedMessage, at: Instant): Beginning[] =>
    (shown.get(`${emailId} ${version}`) ?? [])
      .filter((each) => each.begins === 'sending' && begun?.get(contact.id)?.[each.name] === undefined)
      .map((each) => ({
        contact: contact.id,
        offer: each.name,
        at,
        endsAt: deadlineEnds(each, at, zone),
      }))
  return {
    begins,
    of(message, at) {
      const { id } = message.contact
      const [cart, coupon] = [carts?.get(id), codes?.get(id)]
      const starting = begins(message, at).map(({ offer, endsAt }) => [offer, endsAt] as const)
      const deadlines = { ...begun?.get(id), ...Object.fromEntries(starting) }
      return {
        ...(cart !== undefined && { cart }),
        ...(coupon !== undefined && { coupon }),
        deadlines,
      }
    },
  }
}
