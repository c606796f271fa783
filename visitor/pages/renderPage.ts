import { createHash } from 'node:crypto'
import { documentLinks } from '../../core/blocks/walk.ts'
import { isShownAt, opensByItself, rulesOf } from '../../core/capture/popUp.ts'
import { safeHeadCode } from '../../core/blocks/safeHtml.ts'
import { tokenMark, type Needs } from '../../core/pages/context.ts'
import { wholePage, type OwnMain, type PageHead } from '../../core/pages/wholePage.ts'
import type { Site } from '../../server/pages/site.ts'
import type { ShownPage } from '../../server/pages/versions.ts'
import type { Platform } from '../../server/platform.ts'
import { orderScript } from '../commerce/orderScript.ts'
import { embedScript } from '../capture/embedScript.ts'
import { settingsFor } from './funnelOfPage.ts'
import { pageContext, type Here, type View } from './pageContext.ts'
import { pageScript } from './pageScript.ts'

/** A page ready to be sent: everything but the tokens of its forms. */
export interface RenderedPage {
  /** The markup between the places where a form's token belongs. */
  parts: readonly string[]
  /** Bytes of all parts. */
  size: number
  policy: string
  /** Of a page that is the same for all. */
  etag: string
  /** May search engines list it? */
  listed: boolean
}

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64')

/** Who may show a page in a frame of theirs. */
type FramedBy = 'nobody' | 'us' | 'anybody'

const ancestors: Record<FramedBy, string> = { nobody: "'none'", us: "'self'", anybody: '*' }

/** The policy that lets in what the page's own blocks need, and nothing else. */
function policyOf(style: string, needs: Required<Needs>, site: Site, framedBy: FramedBy): string {
  const tracking = needs.script ? site.settings.trackingScripts.map((url) => new URL(url).origin) : []
  return [
    "default-src 'none'",
    `style-src 'sha256-${hashOf(style)}'`,
    "font-src 'self'",
    "img-src 'self'",
    ...(needs.script ? [`script-src ${["'self'", ...tracking].join(' ')}`] : []),
    ...(needs.script ? [`connect-src ${["'self'", ...tracking].join(' ')}`] : []),
    ...(needs.media ? ["media-src 'self'"] : []),
    ...(needs.frames.length > 0 ? [`frame-src ${needs.frames.join(' ')}`] : []),
    `form-action ${["'self'", ...needs.forms].join(' ')}`,
    "base-uri 'none'",
    `frame-ancestors ${ancestors[framedBy]}`,
  ].join('; ')
}

/** What opens pop-ups on a page: those that may open by themselves here, and those that a button opens. */
function popUpsOf({ popUps }: Site, { content }: ShownPage, path: string): PageHead['popUps'] {
  const here = new URL(path, 'http://here')
  const rules = popUps
    .filter((each) => opensByItself(each.content) && isShownAt(each.content, here))
    .map((each) => rulesOf(each.key, each.content))
  const opened = documentLinks(content.document).some(({ target }) => target.to === 'popUp')
  return rules.length > 0 || opened ? { scriptUrl: embedScript.path, rules: JSON.stringify(rules) } : null
}

function headOf({ settings: { publicUrl } }: Platform, site: Site, page: ShownPage, path: string): PageHead {
  const { settings, business, pages } = site
  const pictureUrl = (id: number | null, width: 'least' | 'most'): string | null => {
    const files = id === null ? undefined : site.pictures.get(id)
    return files ? `${files.base}-${files.widths.at(width === 'least' ? 0 : -1)}.jpg` : null
  }
  const [domain] = settings.domains
  const shared = pictureUrl(page.content.sharing.picture ?? settings.sharingPicture, 'most')
  const privacy = settings.privacyPage === null ? undefined : pages.get(settings.privacyPage)
  return {
    canonical: domain && path.startsWith('/p/') ? `https://${domain}/${page.path}` : `${publicUrl}${path}`,
    siteName: business.name,
    icon: pictureUrl(page.content.icon ?? settings.favicon, 'least') ?? '/assets/icon.svg',
    sharingPicture: shared && `${domain ? `https://${domain}` : publicUrl}${shared}`,
    code: safeHeadCode(settings.headCode),
    scriptUrl: pageScript.path,
    orderScriptUrl: orderScript.path,
    popUps: popUpsOf(site, page, path),
    consent:
      settings.trackingScripts.length > 0
        ? {
            words: settings.consentWords,
            policyHref: privacy?.live ? `/p/${privacy.path}` : null,
            scripts: settings.trackingScripts,
          }
        : null,
  }
}

/** What is different where a page is no page of the Library. */
interface Around {
  framedBy?: FramedBy
  own?: OwnMain | null
  /** Its public path. */
  path?: string
  /** Where it stands on a funnel's line. */
  here?: Here
}

/**
 * Renders a page for one view of it. Somebody in rehearsal reads it in a frame of the application.
 * @param around who may read it in a frame; what stands in its main part, and where, when it is no page of the Library
 */
export function renderPage(
  platform: Platform,
  site: Site,
  page: ShownPage,
  view: View,
  { framedBy = 'nobody', own = null, path = `/p/${page.path}`, here = { page: page.id } }: Around = {},
): RenderedPage {
  const settled = { ...site, settings: settingsFor(site, page.id) }
  const listed = page.content.listed && site.settings.listed
  const { markup, style, needs } = wholePage(
    { ...page.content, listed },
    headOf(platform, settled, page, path),
    pageContext(platform, site, view, here),
    own,
  )
  const parts = markup.split(tokenMark)
  return {
    parts,
    size: parts.reduce((sum, part) => sum + Buffer.byteLength(part), 0),
    policy: policyOf(style, needs, settled, framedBy === 'nobody' && view.reader.rehearsal ? 'us' : framedBy),
    // Weak: it stands for the plain bytes and the compressed ones alike (RFC 9110 §8.8.1).
    etag: `W/"${hashOf(markup).slice(0, 27)}"`,
    listed,
  }
}
