import { pictureOfDetail, readerValues } from '../../core/blocks/mergeValues.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import { nowhere, type Target } from '../../core/blocks/target.ts'
import { stationAfter } from '../../core/funnels/funnel.ts'
import type { FormState } from '../../core/capture/shownForm.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { lessonStates } from '../../core/pages/lessons.ts'
import { downloadUrl } from '../../server/capture/downloads.ts'
import type { Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'

/** How this view of a page came about. */
export interface View {
  reader: Reader
  /** The reader's mark, when only the address carries it: links to other pages carry it on. */
  mark: string | null
  /** Where pages begin: `/p/` here, `/` on a domain of the business. */
  base: string
  form: FormState
  formAction: string
}

export const emptyForm: FormState = { block: null, values: {}, faults: {} }

/** The address of a file that plays within pages. */
export const mediaPath = (platform: Platform, id: number): string =>
  `/media/${id}-${platform.signer.alias('media', id)}`

/** What the next step of a page is in its funnel; nowhere when it has none. */
export function targetAfter(site: Site, page: number | null): Target {
  const lines = site.funnels.map(({ line }) => line)
  const next = page === null ? null : stationAfter(lines, page)
  switch (next?.kind) {
    case 'page':
      return { to: 'page', page: next.page }
    case 'junction':
      return { to: 'junction', junction: next.junction }
    case 'outside':
      return { to: 'web', url: next.url }
    case 'quiz':
    case undefined:
      return nowhere
  }
}

/**
 * The address that a target leads to for a reader; null while it leads nowhere.
 * @param here the page on which it stands, whose funnel knows the next step
 */
export function hrefFor(
  platform: Platform,
  site: Site,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  here: number | null = null,
) {
  const hrefOf = (target: Target): string | null => {
    switch (target.to) {
      case 'web':
        return target.url
      case 'path':
        return target.path
      case 'page': {
        const page = site.pages.get(target.page)
        if (!page?.live) return null
        return `${view.base}${page.path}${view.mark === null ? '' : `?me=${view.mark}`}`
      }
      case 'file':
        // A download is signed for somebody: who is not known finds it in their email.
        return view.reader.contact === null ? null : downloadUrl(platform, target.file, view.reader.contact)
      case 'popUp': {
        // Without a script it is a page by itself.
        const popUp = site.popUps.find(({ id }) => id === target.popUp)
        return popUp ? `/forms/frame/${popUp.key}${view.mark === null ? '' : `?me=${view.mark}`}` : null
      }
      case 'link':
        return `${platform.settings.publicUrl}/l/${target.link}${view.mark === null ? '' : `?me=${view.mark}`}`
      case 'nextStep':
        return hrefOf(targetAfter(site, here))
      case 'junction': {
        const junction = site.junctions.get(target.junction)
        return junction ? `/j/${junction.path}${view.mark === null ? '' : `?me=${view.mark}`}` : null
      }
      case 'nowhere':
      case 'product':
        return null
    }
  }
  return hrefOf
}

/** What a page of the public site is rendered with. */
export function pageContext(
  platform: Platform,
  site: Site,
  view: View,
  here: number | null = null,
): PageContext {
  const { now } = view.reader
  return {
    brand: site.brand,
    business: site.business,
    hrefOf: hrefFor(platform, site, view, here),
    pictureOf: (id) => site.pictures.get(id) ?? null,
    detailPicture: (detail) => pictureOfDetail(site.mergeFields, detail),
    mediaOf: (id) => (site.media.has(id) ? mediaPath(platform, id) : null),
    titleOf: (page) => site.pages.get(page)?.title ?? null,
    lessonsOf: (course) =>
      lessonStates(site.courses.get(course) ?? [], view.reader.learner, now, site.business.zone),
    reader: readerValues(
      site.mergeFields,
      view.reader.known,
      (path) => `${platform.settings.publicUrl}${path}${view.mark === null ? '' : `?me=${view.mark}`}`,
    ),
    known: view.reader.known,
    formOf: (id) => site.forms.get(id) ?? null,
    shows: view.reader.shows,
    videoHosts: site.settings.videoHosts,
    safeHtml,
    form: view.form,
    formAction: view.formAction,
    now,
    editing: false,
  }
}
