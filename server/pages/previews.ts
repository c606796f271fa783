import { notFound } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { pageDrafts } from './drafts.ts'
import { pageById } from './pages.ts'
import type { ShownPage } from './versions.ts'

/** A preview link is good for so long. */
const previewLasts = 7 * 86_400_000

const day = 86_400_000

/** The path under which a page is drawn for its miniature: the same all day, so that browsers need not draw it again. */
export const previewPath = ({ signer, clock }: Platform, page: number): string =>
  `/preview/${signer.sign('preview', [page, Math.floor(clock.now() / day) * day])}`

/** A link that shows a page's newest version to whoever has it, published or not. */
export async function previewLink(platform: Platform, id: number): Promise<{ url: string }> {
  const page = await pageById(platform.database, id)
  const token = platform.signer.sign('preview', [page.id, platform.clock.now()])
  return { url: `${platform.settings.publicUrl}/preview/${token}` }
}

/** The page of a preview link, as it is written now. @throws Problem 404 when the link is none of ours or too old */
export async function previewedPage(platform: Platform, token: string): Promise<ShownPage> {
  const [id, madeAt] = platform.signer.open('preview', token)?.map(Number) ?? []
  if (!id || madeAt === undefined || platform.clock.now() - madeAt > previewLasts)
    throw notFound('This preview')
  const { name, path } = await pageById(platform.database, id)
  const { number: version, content } = await pageDrafts.newest(platform.database, id)
  return { id, name, path, version, content }
}
