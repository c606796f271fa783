import { createHash } from 'node:crypto'
import type { Target } from '../../core/blocks/target.ts'
import { pagesOf, type Station } from '../../core/funnels/funnel.ts'
import { nextTurn, openness } from '../../core/funnels/settings.ts'
import type { SiteSettings } from '../../core/pages/site.ts'
import type { LiveFunnel } from '../../server/funnels/funnels.ts'
import type { Site } from '../../server/pages/site.ts'

/** The live funnel whose settings hold for a page: the first through it. */
export const funnelOf = (site: Site, page: number): LiveFunnel | null =>
  site.funnels.find(({ line }) => line.some((each) => pagesOf(each).includes(page))) ?? null

/** The settings of the site as they hold for a page: its funnel may have others. */
export function settingsFor(site: Site, page: number): SiteSettings {
  const { settings } = site
  const own = funnelOf(site, page)?.settings
  if (!own) return settings
  const { domain, icon, headCode, trackingScripts } = own
  return {
    ...settings,
    domains:
      domain !== null && settings.domains.includes(domain) ? [domain, ...settings.domains] : settings.domains,
    favicon: icon ?? settings.favicon,
    headCode: headCode ?? settings.headCode,
    trackingScripts: trackingScripts ?? settings.trackingScripts,
  }
}

/** May only people in rehearsal see a page yet? */
export const isRehearsed = (site: Site, page: number): boolean =>
  site.funnels.some(({ rehearsalPages }) => rehearsalPages.includes(page))

/** Where visitors of a funnel are led that has not begun, or is over; null while it is open. */
export function ledTo(
  site: Site,
  page: number,
  now: number,
): { why: 'before' | 'after'; target: Target } | null {
  const own = funnelOf(site, page)?.settings
  const why = own ? openness(own, now) : 'open'
  return own && why !== 'open' ? { why, target: own[why] } : null
}

/** When what holds for a page changes by itself (ms). */
export const nextTurnOf = (site: Site, page: number, now: number): number => {
  const own = funnelOf(site, page)?.settings
  return own ? nextTurn(own, now) : Infinity
}

/** The step of a page that shares its visitors with another one. */
export const sharedStation = (site: Site, page: number): Extract<Station, { kind: 'page' }> | null =>
  site.funnels
    .flatMap(({ line }) => line)
    .find(
      (each): each is Extract<Station, { kind: 'page' }> =>
        each.kind === 'page' && each.page === page && each.other !== undefined,
    ) ?? null

/**
 * The page that somebody gets of two: always the same one, as long as the share stays.
 * @param who tells them again: the person, or their address and browser
 */
export function trackFor({ id, page, other }: Extract<Station, { kind: 'page' }>, who: string): number {
  if (!other) return page
  const place = createHash('sha256').update(`${id} ${page}\n${who}`).digest().readUInt32BE(0) / 2 ** 32
  return place * 100 < other.share ? other.page : page
}
