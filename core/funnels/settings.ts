import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'
import { nowhere, target } from '../blocks/target.ts'
import { isZone } from '../followups/waiting.ts'
import { limitedTo, pagePath } from '../pages/page.ts'
import { siteSettings } from '../pages/site.ts'
import { DateTime } from 'luxon'

/** A day and time of the business's own clock. */
const localMoment = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'Choose a date and a time')

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
    startsAt: localMoment.nullable().default(null),
    endsAt: localMoment.nullable().default(null),
    /** Where visitors are led while it has not begun, and once it is over. */
    before: target.default(nowhere),
    after: target.default(nowhere),
  })
  .refine(({ startsAt, endsAt }) => startsAt === null || endsAt === null || startsAt < endsAt, {
    path: ['endsAt'],
    message: 'It ends before it begins',
  })
export type FunnelSettings = z.infer<typeof funnelSettings>

export const noFunnelSettings: FunnelSettings = funnelSettings.parse({})

/** The clock of the world at a time on the business's clock (ms); what the clock never shows is an hour later. */
const momentOf = (local: string, zone: string): number =>
  DateTime.fromISO(local, { zone: isZone(zone) ? zone : 'UTC' }).toMillis()

/** Is a funnel open to visitors, and if not, why? @param zone of the business */
export function openness(
  { startsAt, endsAt }: Pick<FunnelSettings, 'startsAt' | 'endsAt'>,
  zone: string,
  now: number,
): 'open' | 'before' | 'after' {
  if (startsAt !== null && now < momentOf(startsAt, zone)) return 'before'
  if (endsAt !== null && now >= momentOf(endsAt, zone)) return 'after'
  return 'open'
}

/** When it next begins or ends (ms); `Infinity` when it does neither. */
export const nextTurn = (
  { startsAt, endsAt }: Pick<FunnelSettings, 'startsAt' | 'endsAt'>,
  zone: string,
  now: number,
): number =>
  Math.min(
    ...[startsAt, endsAt]
      .flatMap((local) => (local === null ? [] : [momentOf(local, zone)]))
      .filter((at) => at > now),
  )

/** The address of a page after the first part of its funnel's addresses was changed; as it was when it had another. */
export function movedPath(path: string, from: string, to: string): string {
  if (path === from) return to
  return path.startsWith(`${from}/`) ? `${to}${path.slice(from.length)}` : path
}
