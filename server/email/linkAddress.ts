import type { Instant } from '../../core/audience/people/activity.ts'
import type { Target } from '../../core/blocks/target.ts'
import { downloadUrl } from '../capture/downloads.ts'
import { orderPageOf } from '../commerce/publishedProducts.ts'
import { namedLink } from './namedLink.ts'
import type { Queries } from '../database/connect.ts'
import { readerMark } from '../pages/readers.ts'
import type { Platform } from '../platform.ts'

/** A path of this install as an address: who follows it is known, when it leads to a page, a quiz or a junction of ours. */
export const markedAddress = (platform: Platform, path: string, contact: number | null): string => {
  // Who follows a link of our email to a page of ours is known there, and nowhere else.
  const mark =
    contact !== null && /^\/(?:[pjq]\/|cart$|countdown\/own\/)/.test(path) && !path.includes('?')
      ? `?me=${readerMark(platform, contact)}`
      : ''
  return `${platform.settings.publicUrl}${path}${mark}`
}

/**
 * The address that a link of an email has for one person, or for nobody in particular.
 * @param sentAt when the email went out: the days of a file begin then, however often the link is followed
 * @returns null when it leads nowhere from an email, or to what is gone
 */
export async function linkAddress(
  platform: Platform,
  q: Queries,
  target: Target,
  contact: number | null,
  sentAt: Instant,
): Promise<string | null> {
  switch (target.to) {
    case 'web':
      return target.url
    case 'path':
      return markedAddress(platform, target.path, contact)
    case 'file':
      return downloadUrl(platform, target.file, contact, sentAt)
    case 'page': {
      const page = await q.row<{ path: string }>('select path from page where id = $1', [target.page])
      return page ? markedAddress(platform, `/p/${page.path}`, contact) : null
    }
    case 'quiz': {
      const quiz = await q.row<{ path: string }>('select path from quiz where id = $1', [target.quiz])
      return quiz ? markedAddress(platform, `/q/${quiz.path}`, contact) : null
    }
    case 'junction': {
      const junction = await q.row<{ path: string }>('select path from junction where id = $1', [
        target.junction,
      ])
      return junction ? markedAddress(platform, `/j/${junction.path}`, contact) : null
    }
    case 'link': {
      const link = await namedLink(q, target.link)
      // One that led to another could lead around in a circle: none does.
      return link && link.target.to !== 'link' ? linkAddress(platform, q, link.target, contact, sentAt) : null
    }
    case 'cart':
      return markedAddress(platform, '/cart', contact)
    case 'product': {
      const page = await orderPageOf(q, target.product)
      return page === null ? null : linkAddress(platform, q, { to: 'page', page }, contact, sentAt)
    }
    case 'nowhere':
    case 'nextStep':
    case 'popUp':
      return null
  }
}
