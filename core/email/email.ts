import { z } from 'zod'
import { purpose } from '../audience/people/permission.ts'
import { blockDocument } from '../blocks/document.ts'
import { sentences } from '../blocks/kinds/blockKind.ts'
import { referenceId } from '../blocks/reference.ts'
import { linkAction, type LinkAction } from './linkAction.ts'
import type { ShownTo } from '../blocks/kinds/blockKind.ts'
import { documentLinks, documentReferences, type DocumentLink } from '../blocks/walk.ts'

/** A header line: longer ones are cut off by every mailbox. */
const header = z.string().max(300, 'Use 300 letters at most')

/** What a version of an email holds. Lines and texts may hold merge fields, as those of pages. */
export const emailContent = z.strictObject({
  subject: header.default(''),
  /** Shown beside the subject in a list of mails. */
  preheader: header.default(''),
  /** `transactional` is only what the reader asked for; it goes out without permission for marketing. */
  purpose: purpose.default('marketing'),
  /** Why the reader gets it, at its foot. */
  why: sentences.default(''),
  topic: referenceId.nullable().default(null),
  /** From whom it comes, of the senders of the business; its usual one when null. */
  sender: referenceId.nullable().default(null),
  /** Where answers go; to the sender when empty. */
  replyTo: z.union([z.literal(''), z.email('Use an address such as name@example.com').max(254)]).default(''),
  document: blockDocument,
  /** What a click does, by the link's key. */
  onClick: z.record(z.string().max(60), z.array(linkAction).max(10)).default({}),
  /** The text part as somebody has written it; made of the blocks when null. */
  text: z.string().max(50_000).nullable().default(null),
  /** Opens and clicks are counted. */
  tracked: z.boolean().default(true),
  /** Only the text part goes out. */
  textOnly: z.boolean().default(false),
})
export type EmailContent = z.infer<typeof emailContent>

/** By this its actions are found: a link is told by its block, and within that by a part. */
export const linkKey = ({ block, part }: Pick<DocumentLink, 'block' | 'part'>): string => `${block} ${part}`

/** What a click on each link does; of links that are gone nothing is left. */
export const clickActions = (
  content: EmailContent,
): { link: DocumentLink; actions: readonly LinkAction[] }[] =>
  emailLinks(content).map((link) => ({ link, actions: content.onClick[linkKey(link)] ?? [] }))

/** Every place that an email leads to, in reading order. Only these may ever be redirected to. */
export const emailLinks = ({ document }: Pick<EmailContent, 'document'>): DocumentLink[] =>
  documentLinks(document)

/** A new email that says nothing yet. */
export const emptyEmail = (given: Partial<z.input<typeof emailContent>> = {}): EmailContent =>
  emailContent.parse({ document: { sections: [] }, ...given })

/** A section or block that some people only see. */
export interface ConditionalPart {
  part: string
  shownTo: ShownTo
}

/** The parts of an email that not everybody sees, in reading order; templates number them so. */
export const conditionalParts = ({ document }: Pick<EmailContent, 'document'>): ConditionalPart[] =>
  document.sections
    .flatMap((section) => [section, ...section.columns.flatMap(({ blocks }) => blocks)])
    .flatMap(({ id, shownTo }) => (shownTo ? [{ part: id, shownTo }] : []))

/** Does an email offer something to buy? */
export const sells = ({ document }: EmailContent): boolean =>
  documentReferences(document).some(({ kind }) => kind === 'products')
