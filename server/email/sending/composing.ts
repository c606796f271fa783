import type { Condition } from '../../../core/audience/segments/condition.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { namesFields, wordsText } from '../../../core/email/emailTemplate.ts'
import { templateFields, type MergeValues } from '../../../core/email/merge.ts'
import { activityKindsIn, loadPeople } from '../../audience/people/personFacts.ts'
import { preferencesUrl } from '../../audience/people/preferences.ts'
import { evaluate } from '../../../core/audience/segments/evaluate.ts'
import { stranger } from '../../../core/audience/people/person.ts'
import { loadContext } from '../../audience/segments/evaluationContext.ts'
import { noMergeFields } from '../../../core/blocks/mergeValues.ts'
import { markedAddress } from '../linkAddress.ts'
import { loadMergeFields } from '../../blocks/mergeFields.ts'
import type { Queries } from '../../database/connect.ts'
import {
  composeMessage,
  prepareEmail,
  type EmailToPrepare,
  type PreparedEmail,
} from '../mime/preparedEmail.ts'
import type { Beginning } from '../../commerce/deadlines.ts'
import { envelopeAddress, type Mailbox } from '../mime/headers.ts'
import { clickUrl, openUrl, uncounted, unsubscribeUrl } from '../messageAddresses.ts'
import type { Platform } from '../../platform.ts'
import { getBusiness } from '../../workspace/business.ts'
import type { WireMessage } from '../smtpPool.ts'
import { loadOwnValues } from './ownValues.ts'
import { loadVersions, type ClaimedMessage, type SendableVersion } from './claimed.ts'

/** Composes the messages of a batch: all that they need has been loaded. */
export interface Composer {
  /** Is anything of its email published? */
  isSendable(message: ClaimedMessage): boolean
  /** The personal deadlines that begin with this message. */
  begins(message: ClaimedMessage, at: Instant): Beginning[]
  /** @throws when it cannot be put together for this person */
  compose(message: ClaimedMessage, at: Instant): WireMessage
}

const keyOf = ({ emailId, version }: { emailId: number; version: number | null }): string =>
  `${emailId} ${version}`

/** Which parts of their email these people see, of those that not everybody sees: loaded for all at once. */
async function loadShows(
  q: Queries,
  messages: readonly ClaimedMessage[],
  versions: ReadonlyMap<string, SendableVersion>,
): Promise<(message: ClaimedMessage, conditions: readonly Condition[], now: Instant) => boolean[]> {
  const conditional = messages.filter((each) => versions.get(keyOf(each))?.conditions.length)
  if (conditional.length === 0) return () => []
  const conditions = [...versions.values()].flatMap((version) => version.conditions)
  const context = await loadContext(q, conditions)
  const people = await loadPeople(
    q,
    [...new Set(conditional.map(({ contact }) => contact.id))],
    activityKindsIn(conditions, context.segments),
  )
  return (message, asked, now) =>
    asked.map(
      (each) =>
        evaluate(each, people.get(message.contact.id) ?? stranger, { ...context, now }).holds === true,
    )
}

/** The templates of the versions that were sent last: parsed once, and again only when they have changed. */
export type Prepared = Map<string, { made: EmailToPrepare; email: PreparedEmail }>

const isSame = (a: EmailToPrepare, b: EmailToPrepare): boolean =>
  a.html === b.html &&
  a.text === b.text &&
  a.subject === b.subject &&
  a.replyTo === b.replyTo &&
  a.from.name === b.from.name &&
  a.from.address === b.from.address

/** So many versions are kept parsed. */
const mostPrepared = 50

const preparedKey = (
  { emailId, version }: { emailId: number; version: number | null },
  subject: string | null,
  senderName: string | null,
): string => `${emailId} ${version} ${subject ?? ''}\n${senderName ?? ''}`

function prepared(
  kept: Prepared,
  version: SendableVersion,
  { subject, senderName }: ClaimedMessage,
  sender: Mailbox,
): PreparedEmail {
  const from = { ...sender, ...(senderName !== null && { name: senderName }) }
  const made = { ...version, from, ...(subject !== null && { subject: wordsText(subject) }) }
  const key = preparedKey(version, subject, senderName)
  const known = kept.get(key)
  if (known && isSame(known.made, made)) return known.email
  if (kept.size >= mostPrepared) kept.clear()
  const email = prepareEmail(made)
  kept.set(key, { made, email })
  return email
}

/** Loads what these messages are made of. @param kept from batch to batch */
export async function openComposer(
  platform: Platform,
  q: Queries,
  messages: readonly ClaimedMessage[],
  kept: Prepared,
): Promise<Composer> {
  const { settings, signer } = platform
  const found = await loadVersions(q, messages)
  const versions = new Map(found.map((version) => [keyOf(version), version]))
  const showsOf = await loadShows(q, messages, versions)
  const business = await getBusiness(q)
  const names = found.some(({ subject, html, text }) => [subject, html ?? '', text].some(namesFields))
  const ofVariants = messages.some(({ subject }) => subject?.includes('{'))
  const mergeFields = names || ofVariants ? await loadMergeFields(q) : noMergeFields
  const usual: Mailbox = { name: business.sender.name, address: business.sender.address }
  const own = await loadOwnValues(q, messages, found, platform.clock.now())
  // Whether a template has changed is asked once a batch.
  const ready = new Map<string, PreparedEmail>()
  const readyFor = (version: SendableVersion, message: ClaimedMessage): PreparedEmail => {
    const key = preparedKey(version, message.subject, message.senderName)
    const email = ready.get(key) ?? prepared(kept, version, message, version.sender ?? usual)
    ready.set(key, email)
    return email
  }
  return {
    isSendable: (message) => versions.has(keyOf(message)),
    begins: (message, at) => own.begins(message, at),
    compose(message, at) {
      const version = versions.get(keyOf(message))
      if (!version) throw new Error('nothing of it is published')
      const { contact } = message
      const from = version.sender ?? usual
      const domain = from.address.split('@')[1] ?? 'localhost'
      const values: MergeValues = {
        person: {
          first_name: contact.firstName,
          last_name: contact.lastName,
          address: contact.address,
        },
        business: { name: business.name, postal_address: business.postalAddress, zone: business.zone },
        ...templateFields(
          mergeFields,
          {
            builtIn: contact.zone === null ? {} : { zone: contact.zone },
            own: contact.fields,
            ...own.of(message, at),
          },
          (path) => markedAddress(platform, path, contact.id),
        ),
        base_url: settings.publicUrl,
        shows: showsOf(message, version.conditions, at),
        links: version.links.map((link) => clickUrl(platform, message.id, link)),
        unsubscribe_url: unsubscribeUrl(platform, contact.id, message.id),
        preferences_url: preferencesUrl(platform, contact.id),
        open_url: version.tracked && !contact.untracked ? openUrl(platform, message.id) : uncounted,
      }
      const raw = composeMessage(readyFor(version, message), {
        to: { name: `${contact.firstName} ${contact.lastName}`.trim(), address: contact.address },
        // Composed again it is the same, so that a mailbox can tell a second try from a second email.
        messageId: `<${signer.alias('message', message.id)}@${domain}>`,
        at,
        values,
      })
      return {
        from: envelopeAddress(from.address),
        to: envelopeAddress(contact.address),
        raw: Buffer.from(raw, 'utf8'),
      }
    },
  }
}
