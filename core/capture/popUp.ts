import { z } from 'zod'
import { blockDocument } from '../blocks/document.ts'
import { line } from '../blocks/kinds/blockKind.ts'
import { walk } from '../blocks/walk.ts'

export const device = z.enum(['phone', 'tablet', 'computer'])

/** Where a pop-up may be shown: `*` stands for anything, as in `/p/*`. */
const pathPattern = z
  .string()
  .trim()
  .min(1)
  .max(200)
  .regex(
    /^(\/|\*|https?:\/\/)[\x21-\x7e]*$/,
    'Use a path such as /p/* or an address such as https://example.com/*',
  )

/** What a version of a pop-up holds. */
export const popUpContent = z.strictObject({
  /** Read out when it opens; it need not stand in it. */
  title: z.string().trim().min(1, 'Say what it is about').max(120),
  document: blockDocument,
  shape: z.enum(['centre', 'corner', 'bar']).default('centre'),
  /** Of a bar. */
  edge: z.enum(['top', 'bottom']).default('bottom'),
  /** By what it opens by itself; a button can open it at any time. */
  opens: z
    .strictObject({
      afterSeconds: z.number().int().min(0).max(3_600).nullable().default(null),
      /** Of the page (%). */
      afterScrolling: z.number().int().min(1).max(100).nullable().default(null),
      whenLeaving: z.boolean().default(false),
      /** From this visit on. */
      fromVisit: z.number().int().min(1).max(100).default(1),
    })
    .default({ afterSeconds: null, afterScrolling: null, whenLeaving: false, fromVisit: 1 }),
  pages: z.array(pathPattern).max(50).default([]),
  notPages: z.array(pathPattern).max(50).default([]),
  /** On sites of others too, which show it by a line of code. */
  elsewhere: z.boolean().default(false),
  /** On all when empty. */
  devices: z.array(device).max(3).default([]),
  /** Values of `utm_source`; whatever the source when empty. */
  sources: z.array(line).max(20).default([]),
  notTo: z.enum(['nobody', 'known', 'subscribed']).default('subscribed'),
  /** Not again for so many days after somebody has closed it. */
  againAfterDays: z.number().int().min(0).max(365).default(14),
})
export type PopUpContent = z.infer<typeof popUpContent>

const escaped = (text: string): string => text.replace(/[.+?^${}()|[\]\\]/g, '\\$&')

/** Does a pattern stand for an address, whole or by its path? */
export function matchesPattern(pattern: string, address: URL): boolean {
  const expression = new RegExp(`^${pattern.split('*').map(escaped).join('.*')}$`)
  return expression.test(address.pathname) || expression.test(`${address.origin}${address.pathname}`)
}

/** May a pop-up be shown at an address? Without patterns everywhere. */
export const isShownAt = (
  { pages, notPages }: Pick<PopUpContent, 'pages' | 'notPages'>,
  address: URL,
): boolean =>
  (pages.length === 0 || pages.some((pattern) => matchesPattern(pattern, address))) &&
  !notPages.some((pattern) => matchesPattern(pattern, address))

/** The rules by which a browser opens a pop-up: all that it has to know before that is due. */
export interface PopUpRules {
  key: string
  afterSeconds: number | null
  afterScrolling: number | null
  whenLeaving: boolean
  fromVisit: number
  pages: readonly string[]
  notPages: readonly string[]
  devices: readonly string[]
  sources: readonly string[]
  againAfterDays: number
}

export const rulesOf = (key: string, content: PopUpContent): PopUpRules => {
  const { opens, pages, notPages, devices, sources, againAfterDays } = content
  return { key, ...opens, pages, notPages, devices, sources, againAfterDays }
}

/** Does it open by itself at all? */
export const opensByItself = ({ opens }: Pick<PopUpContent, 'opens'>): boolean =>
  opens.afterSeconds !== null || opens.afterScrolling !== null || opens.whenLeaving

/** When and where a pop-up shows, as one reads it aloud. */
export function describeRules({
  opens,
  pages,
  notPages,
  elsewhere,
  devices,
  sources,
  notTo,
  againAfterDays,
}: PopUpContent): string[] {
  const moments = [
    opens.afterSeconds === null
      ? ''
      : opens.afterSeconds === 0
        ? 'at once'
        : `after ${opens.afterSeconds} seconds`,
    opens.afterScrolling === null ? '' : `after ${opens.afterScrolling} % of the page`,
    opens.whenLeaving ? 'when the pointer leaves the page' : '',
  ].filter(Boolean)
  const people = {
    nobody: '',
    known: 'not to people we know',
    subscribed: 'not to people who are subscribed',
  }
  return [
    moments.length > 0 ? `opens ${moments.join(', or ')}` : 'opens by a button only',
    ...(moments.length > 0 && opens.fromVisit > 1 ? [`from visit ${opens.fromVisit} on`] : []),
    pages.length > 0 ? `on ${pages.join(', ')}` : 'on all pages',
    ...(notPages.length > 0 ? [`not on ${notPages.join(', ')}`] : []),
    ...(elsewhere ? ['on other sites too'] : []),
    ...(devices.length > 0 ? [`on ${devices.join(' or ')} only`] : []),
    ...(sources.length > 0 ? [`to visitors from ${sources.join(' or ')}`] : []),
    ...(people[notTo] ? [people[notTo]] : []),
    againAfterDays > 0
      ? `not again for ${againAfterDays} days after it was closed`
      : 'again after it was closed',
    'never after its form was sent',
  ]
}

/** The forms that stand in a pop-up. */
export const formsOfPopUp = ({ document }: Pick<PopUpContent, 'document'>): number[] =>
  [...walk(document)].flatMap(({ block }) =>
    block.kind === 'form' && block.form !== null ? [block.form] : [],
  )
