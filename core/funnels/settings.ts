import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'
import { nowhere, target } from '../blocks/target.ts'
import { limitedTo, pagePath } from '../pages/page.ts'
import { siteSettings } from '../pages/site.ts'

const moment = z.iso.datetime({ offset: true, error: 'Choose a date and a time' })

/** What holds for all pages of a funnel; null where it is as for the whole site. */
export const funnelSettings = z
  .strictObject({
    /** The first part of the addresses of its pages. */
    path: pagePath.nullable().default(null),
    /** ISO 4217; of what it sells. */
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, 'Use three letters such as EUR')
      .nullable()
      .default(null),
    /** One of the site's domains, under which its pages are shared. */
    domain: z.string().max(253).nullable().default(null),
    icon: referenceId.nullable().default(null),
    trackingScripts: siteSettings.shape.trackingScripts.unwrap().nullable().default(null),
    headCode: siteSettings.shape.headCode.unwrap().nullable().default(null),
    limitedTo: limitedTo.nullable().default(null),
    startsAt: moment.nullable().default(null),
    endsAt: moment.nullable().default(null),
    /** Where visitors are led while it has not begun, and once it is over. */
    before: target.default(nowhere),
    after: target.default(nowhere),
  })
  .refine(
    ({ startsAt, endsAt }) =>
      startsAt === null || endsAt === null || Date.parse(startsAt) < Date.parse(endsAt),
    {
      path: ['endsAt'],
      message: 'It ends before it begins',
    },
  )
export type FunnelSettings = z.infer<typeof funnelSettings>

export const noFunnelSettings: FunnelSettings = funnelSettings.parse({})

type Times = Pick<FunnelSettings, 'startsAt' | 'endsAt'>

/** Is a funnel open to visitors, and if not, why? @param now in milliseconds */
export function openness({ startsAt, endsAt }: Times, now: number): 'open' | 'before' | 'after' {
  if (startsAt !== null && now < Date.parse(startsAt)) return 'before'
  if (endsAt !== null && now >= Date.parse(endsAt)) return 'after'
  return 'open'
}

/** When it next begins or ends (ms); `Infinity` when it does neither. */
export const nextTurn = ({ startsAt, endsAt }: Times, now: number): number =>
  Math.min(
    ...[startsAt, endsAt]
      .flatMap((each) => (each === null ? [] : [Date.parse(each)]))
      .filter((at) => at > now),
  )

/** The address of a page after the first part of its funnel's addresses was changed; as it was when it had another. */
export function movedPath(path: string, from: string, to: string): string {
  if (path === from) return to
  return path.startsWith(`${from}/`) ? `${to}${path.slice(from.length)}` : path
}
