import type { Response } from 'express'
import { pictureOfDetail, readerValues } from '../../core/blocks/mergeValues.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import type { Target } from '../../core/blocks/target.ts'
import { pagesOf, stationAfter, targetOfStation } from '../../core/funnels/funnel.ts'
import { waysOf } from '../../core/junctions/junction.ts'
import type { ShownNextOffer, ShownOrder, ShownPurchase } from '../../core/commerce/shownOrder.ts'
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
  /** What the order forms of the page show, by block. */
  orders?: ReadonlyMap<string, ShownOrder>
  /** One more offer, by block. */
  nextOffers?: ReadonlyMap<string, ShownNextOffer>
  /** What the reader has just bought. */
  purchase?: ShownPurchase | null
}

export const emptyForm: FormState = { block: null, values: {}, faults: {} }

/** No page of the Library has this number: the pages of junctions and quizzes bear it. */
export const noPage = 0

/** Where pages begin for this request: `/p/` under our own name, `/` on a domain of the business. */
export const baseOf = (response: Response): string => (response.locals.ownDomain === true ? '/' : '/p/')

/** The address of a file that plays within pages. */
export const mediaPath = (platform: Platform, id: number): string =>
  `/media/${id}-${platform.signer.alias('media', id)}`

/** Where somebody is: on a page, at a junction, or at the end of a quiz. */
export type Here = { page: number } | { junction: number } | { quiz: number }

/** What the next step from there is in its funnel; nowhere when it has none. */
export const targetAfter = (site: Site, here: Here | null): Target =>
  targetOfStation(
    here &&
      stationAfter(
        site.funnels.map(({ line }) => line),
        (each) => {
          if ('page' in here) return pagesOf(each).includes(here.page)
          if ('quiz' in here) return each.kind === 'quiz' && each.quiz === here.quiz
          return each.kind === 'junction' && each.junction === here.junction
        },
      ),
  )

/** Addresses of other sites behind a target: of what a named link or a junction leads to as well. */
function addressesBehind(site: Site, target: Target, here: Here | null, seen = new Set<number>()): string[] {
  switch (target.to) {
    case 'web':
      return [target.url]
    case 'nextStep':
      return addressesBehind(site, targetAfter(site, here), null, seen)
    case 'link': {
      const behind = site.namedLinks.get(target.link)
      return behind ? addressesBehind(site, behind, null, seen) : []
    }
    case 'junction': {
      const junction = site.junctions.get(target.junction)
      if (!junction || seen.has(junction.id)) return []
      seen.add(junction.id)
      const at = { junction: junction.id }
      return waysOf(junction.content).flatMap((way) => addressesBehind(site, way.target, at, seen))
    }
    case 'nowhere':
    case 'page':
    case 'file':
    case 'path':
    case 'popUp':
    case 'quiz':
    case 'product':
    case 'cart':
      return []
  }
}

/**
 * The address that a target leads to for a reader; null while it leads nowhere.
 * @param here where it stands: a funnel knows the next step
 */
export function hrefFor(
  platform: Platform,
  site: Site,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  here: Here | null = null,
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
      case 'quiz': {
        const quiz = site.quizzes.get(target.quiz)
        return quiz ? `/q/${quiz.path}${view.mark === null ? '' : `?me=${view.mark}`}` : null
      }
      case 'junction': {
        const junction = site.junctions.get(target.junction)
        return junction ? `/j/${junction.path}${view.mark === null ? '' : `?me=${view.mark}`}` : null
      }
      case 'product': {
        // What is sold leads to where it is bought.
        const page = site.orderPages.get(target.product)
        return page === undefined ? null : hrefOf({ to: 'page', page })
      }
      case 'cart':
        return `/cart${view.mark === null ? '' : `?me=${view.mark}`}`
      case 'nowhere':
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
  here: Here | null = null,
): PageContext {
  const { now } = view.reader
  const hrefOf = hrefFor(platform, site, view, here)
  return {
    brand: site.brand,
    business: site.business,
    hrefOf,
    originsOf: (target) =>
      [hrefOf(target) ?? '', ...addressesBehind(site, target, here)].flatMap((url) =>
        /^https?:/.test(url) && URL.canParse(url) ? [new URL(url).origin] : [],
      ),
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
    quizOf: (id) => {
      const quiz = site.quizzes.get(id)
      const kept = view.mark === null ? '' : `&me=${view.mark}`
      return quiz ? { name: quiz.name, frame: `/q/${quiz.path}?in=frame${kept}` } : null
    },
    orderOf: ({ id }) => view.orders?.get(id) ?? null,
    nextOfferOf: ({ id }) => view.nextOffers?.get(id) ?? null,
    purchase: view.purchase ?? null,
    deadlineOf(name) {
      const ends = view.reader.deadlines[name]
      if (ends === undefined) return null
      // Somebody made up has a clock of their own, which their browser does not.
      const until = new Date(ends - (now - platform.clock.now())).toISOString()
      return { until, over: ends <= now }
    },
    shows: view.reader.shows,
    videoHosts: site.settings.videoHosts,
    safeHtml,
    form: view.form,
    formAction: view.formAction,
    now,
    editing: false,
  }
}
