import type { FormContent } from '../../core/capture/form.ts'
import type { Target } from '../../core/blocks/target.ts'
import { downloadUrl } from '../../server/capture/downloads.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'
import { hrefFor, type View } from '../pages/pageContext.ts'

/**
 * Where a target leads whoever has just sent a form. A file is handed out at once: in their name where the form has
 * just put them on the list, else in nobody's, since anybody may have typed their address.
 */
export function hrefForSender(
  platform: Platform,
  site: Site,
  target: Target,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  added: number | null,
  here: number | null = null,
): string | null {
  if (target.to === 'file') return downloadUrl(platform, target.file, view.reader.contact ?? added)
  return hrefFor(platform, site, view, here)(target)
}

/**
 * Where a form leads on to once it was sent; null when something takes its place instead.
 * @param here the page on which it was sent
 */
export const hrefAfter = (
  platform: Platform,
  site: Site,
  { after }: FormContent,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  added: number | null,
  here: number | null = null,
): string | null =>
  after.then === 'go' ? hrefForSender(platform, site, after.target, view, added, here) : null
