import { z } from 'zod'
import { condition } from '../audience/segments/condition.ts'
import { deadlineName } from '../commerce/deadlineState.ts'
import { blockDocument } from '../blocks/document.ts'
import { referenceId } from '../blocks/reference.ts'
import { webAddress } from '../blocks/target.ts'

export const pagePurpose = z.enum([
  'landing',
  'thankYou',
  'file',
  'sales',
  'confirm',
  'lesson',
  'warmUp',
  'registration',
  'order',
  'upsell',
  'downsell',
  'room',
  'replay',
  'legal',
  'any',
])
export type PagePurpose = z.infer<typeof pagePurpose>

interface PurposeTraits {
  name: string
  /** May search engines list such a page, unless somebody says otherwise? */
  listed: boolean
  /** It has its place on a line, and comes with its part of the product. */
  later?: true
}

export const purposes: Record<PagePurpose, PurposeTraits> = {
  landing: { name: 'landing page', listed: true },
  thankYou: { name: 'thank-you page', listed: false },
  file: { name: 'file page', listed: false },
  sales: { name: 'sales page', listed: true },
  confirm: { name: 'confirm page', listed: false },
  lesson: { name: 'lesson', listed: false },
  warmUp: { name: 'warm-up page', listed: true },
  registration: { name: 'registration page', listed: true },
  order: { name: 'order page', listed: false },
  upsell: { name: 'one more offer', listed: false },
  downsell: { name: 'smaller offer', listed: false },
  room: { name: 'session room', listed: false, later: true },
  replay: { name: 'recording', listed: false, later: true },
  legal: { name: 'legal page', listed: true },
  any: { name: 'page', listed: true },
}

/** Those that a page can be made for now, in the order of the list. */
export const offeredPurposes = pagePurpose.options.filter((each) => !purposes[each].later)

/** First parts of a path that the install itself answers to, also on a domain of the business. */
const taken = new Set([
  'api', 'app', 'assets', 'cart', 'confirm', 'confirm-again', 'contact-card', 'countdown', 'embed', 'files', 'forms', 'gateway', 'go', 'healthz', 'j', 'l', 'media', 'mine', 'order', 'p',
  'pictures', 'preferences', 'preview', 'q', 'robots', 'seen', 'sitemap', 'unsubscribe',
]) // prettier-ignore

/** The path of a page: lower case letters, digits and hyphens, with slashes between its parts. */
export const pagePath = z
  .string()
  .trim()
  .min(1, 'Give the page an address')
  .max(100, 'An address has at most 100 letters')
  .regex(
    /^[a-z0-9]+(-[a-z0-9]+)*(\/[a-z0-9]+(-[a-z0-9]+)*)*$/,
    'Use lower-case letters, digits and hyphens, such as template-pack or template-pack/thanks',
  )
  .refine((path) => !taken.has(path.split('/')[0] ?? ''), 'This address is used by Nurtel itself')

/** A path made of a name: "Sew your first book!" gives `sew-your-first-book`. */
export function pathOfName(name: string): string {
  const path = name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 60)
    .replace(/^-+|-+$/g, '')
  return pagePath.safeParse(path).success ? path : 'page'
}

/** When a lesson opens for one person. */
export const lessonOpens = z.discriminatedUnion('when', [
  z.strictObject({ when: z.literal('atOnce') }),
  /** So many days after this person began the course, at the same time of day. */
  z.strictObject({ when: z.literal('daysAfterStart'), days: z.number().int().min(1).max(365) }),
  /** At the beginning of a day of the business's calendar. */
  z.strictObject({ when: z.literal('date'), date: z.iso.date() }),
  z.strictObject({ when: z.literal('previousSeen') }),
])
export type LessonOpens = z.infer<typeof lessonOpens>

/** Who may see a page, and what others get. */
export const limitedTo = z.strictObject({
  people: condition,
  others: z.discriminatedUnion('get', [
    z.strictObject({ get: z.literal('text'), words: z.string().min(1).max(2_000) }),
    z.strictObject({ get: z.literal('page'), page: referenceId }),
    z.strictObject({ get: z.literal('address'), url: webAddress }),
  ]),
})
export type LimitedTo = z.infer<typeof limitedTo>

/** What a version of a page holds: all that its visitors see. */
export const pageContent = z.strictObject({
  title: z.string().trim().min(1, 'Give the page a title').max(120),
  description: z.string().max(300).default(''),
  /** BCP 47. */
  language: z
    .string()
    .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'Use a language code such as en or en-IE')
    .default('en'),
  /** May search engines list it? */
  listed: z.boolean(),
  sharing: z
    .strictObject({ title: z.string().max(120), words: z.string().max(300), picture: referenceId.nullable() })
    .default({ title: '', words: '', picture: null }),
  /** The icon of the browser tab; that of the site when null. */
  icon: referenceId.nullable().default(null),
  limitedTo: limitedTo.nullable().default(null),
  opens: lessonOpens.default({ when: 'atOnce' }),
  /** The personal deadline while which it is open, for each by themselves. */
  deadline: deadlineName.nullable().default(null),
  document: blockDocument,
})
export type PageContent = z.infer<typeof pageContent>
