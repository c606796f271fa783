import type { Source } from '../../core/audience/people/activity.ts'
import type { FormContent } from '../../core/capture/form.ts'
import type { Target } from '../../core/blocks/target.ts'
import { downloadUrl } from '../../server/capture/downloads.ts'
import { passToken, type PassToken } from '../../server/junctions/passTokens.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'
import { hrefFor, targetAfter, type Here, type View } from '../pages/pageContext.ts'

/** Who has just sent a form. */
export interface Sent {
  sender: PassToken | null
  /** Whom it put on the list, if they were not there. */
  added: number | null
  /** Where they came from. */
  source: Source
}

/**
 * Where a target leads whoever has just sent a form. A file is handed out at once: in their name where the form has
 * just put them on the list, else in nobody's, since anybody may have typed their address. A junction learns who it was
 * by a token that is good once.
 * @param here where they are: a funnel knows the next step
 */
export function hrefForSender(
  platform: Platform,
  site: Site,
  target: Target,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  { sender, added, source }: Sent,
  here: Here | null = null,
): string | null {
  const led = target.to === 'nextStep' ? targetAfter(site, here) : target
  if (led.to === 'file') return downloadUrl(platform, led.file, view.reader.contact ?? added)
  if (led.to !== 'junction' || sender === null) return hrefFor(platform, site, view, here)(led)
  const junction = site.junctions.get(led.junction)
  if (!junction) return null
  const values = new URLSearchParams({ ...source, pass: passToken(platform, led.junction, sender) })
  return `/j/${junction.path}?${values.toString()}`
}

/** Where a form leads on to once it was sent; null when something takes its place instead. */
export const hrefAfter = (
  platform: Platform,
  site: Site,
  { after }: FormContent,
  view: Pick<View, 'reader' | 'mark' | 'base'>,
  sent: Sent,
  here: Here | null = null,
): string | null =>
  after.then === 'go' ? hrefForSender(platform, site, after.target, view, sent, here) : null
