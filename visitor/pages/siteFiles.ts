import { createRequire } from 'node:module'
import { Router } from 'express'
import { typeface } from '../../core/pages/brand.ts'
import { currentFile } from '../../server/capture/files.ts'
import { sendFile } from '../capture/download.ts'
import { notFound } from '../../server/http/problems.ts'
import { pictureFile } from '../../server/pages/pictures.ts'
import { isRehearsed } from './funnelOfPage.ts'
import { mediaPath } from './pageContext.ts'
import { pageScript } from './pageScript.ts'
import type { PublicSite } from './publicSite.ts'

const require = createRequire(import.meta.url)

/** Forms on other sites show these too: they are the same for everybody. */
const onAnySite = { 'access-control-allow-origin': '*', 'cross-origin-resource-policy': 'cross-origin' }

/** What stands on pages, and what search engines read of the site. */
export function siteFileRoutes({ platform, published }: PublicSite): Router {
  const routes = Router()
  const { database } = platform

  routes.get('/pictures/:picture', async (request, response) => {
    const [, id, edition = '', width, format = ''] =
      /^(\d{1,15})-([A-Za-z0-9]{4,16})-(\d{1,5})\.(webp|jpg)$/.exec(request.params.picture) ?? []
    if (id === undefined) throw notFound('This picture')
    const content = await pictureFile(database, { id: Number(id), edition, width: Number(width), format })
    response
      .set(onAnySite)
      .set('cache-control', 'public, max-age=31536000, immutable')
      .type(format)
      .send(content)
  })

  routes.get('/media/:media', async (request, response) => {
    const name = request.params.media
    const id = Number(name.split('-')[0])
    const site = await published.site()
    if (!site.media.has(id) || `/media/${name}` !== mediaPath(platform, id)) throw notFound('This file')
    const file = await currentFile(database, id)
    if (!file) throw notFound('This file')
    response.set('cache-control', 'private, max-age=3600').type(file.mediaType)
    await sendFile(platform, request, response, file)
  })

  routes.get(pageScript.path, (_request, response) => {
    response.set('cache-control', 'public, max-age=31536000, immutable').type('js').send(pageScript.source)
  })

  routes.get('/assets/fonts/:font', (request, response) => {
    const [, face, subset] = /^([a-z-]+?)-(latin|latin-ext)\.woff2$/.exec(request.params.font) ?? []
    const known = typeface.safeParse(face)
    if (!known.success || subset === undefined) throw notFound('This typeface')
    const file = `@fontsource-variable/${known.data}/files/${known.data}-${subset}-wght-normal.woff2`
    response.set(onAnySite).sendFile(require.resolve(file), { maxAge: '365d', immutable: true })
  })

  routes.get('/robots.txt', async (_request, response) => {
    const { settings } = await published.site()
    const lines = settings.listed
      ? [
          'User-agent: *',
          'Disallow: /app/',
          'Disallow: /api/',
          `Sitemap: ${originOf(settings.domains)}/sitemap.xml`,
        ]
      : ['User-agent: *', 'Disallow: /']
    response.type('text').send(`${lines.join('\n')}\n`)
  })

  const originOf = ([domain]: readonly string[]): string =>
    domain ? `https://${domain}` : platform.settings.publicUrl

  routes.get('/sitemap.xml', async (_request, response) => {
    const site = await published.site()
    const { settings, pages } = site
    const base = settings.domains[0] ? `${originOf(settings.domains)}/` : `${platform.settings.publicUrl}/p/`
    const urls = [...pages.values()]
      .filter(({ id, live, listed }) => live && listed && settings.listed && !isRehearsed(site, id))
      .map(
        ({ path, changedAt }) =>
          `<url><loc>${base}${path}</loc><lastmod>${new Date(changedAt).toISOString()}</lastmod></url>`,
      )
    response
      .type('xml')
      .send(
        `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${urls.join('')}</urlset>\n`,
      )
  })

  return routes
}
