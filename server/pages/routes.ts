import { raw, Router } from 'express'
import * as api from '../../contract/api.ts'
import { pagePath } from '../../core/pages/page.ts'
import { deleteFile, editFile, listFiles, storeFile, useFileVersion } from '../capture/files.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle, handleStream } from '../http/handle.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { WebPlatform } from '../platform.ts'
import { checkDomain } from './domainCheck.ts'
import { pageDrafts } from './drafts.ts'
import { createCourse, listCourses, saveCourse } from './courses.ts'
import { deleteSection, orderLessons, saveSection, viewSite } from './library.ts'
import { listPages } from './pageList.ts'
import { copyPage, createPage, deletePage, pathFault, setPageSettings, viewPage } from './pages.ts'
import { deletePicture, editPicture, largestPicture, listPictures, storePicture } from './pictures.ts'
import { previewLink } from './previews.ts'
import { setBrand, setSender, setSiteSettings } from './site.ts'

/** The bytes of an upload. @throws Problem 422 when there are none */
function bytesOf(body: unknown): Buffer {
  if (Buffer.isBuffer(body) && body.length > 0) return body
  throw new Problem(422, 'This file is empty', 'Choose another one.')
}

/** Pages of the Library, the site and what stands on it. */
export function pageRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database, clock } = platform
  const now = (): Date => new Date(clock.now())

  handle(routes, api.pages.list, () => listPages(platform))
  handle(routes, api.pages.view, ({ params, by }) => viewPage(platform, params.id, by))
  handle(
    routes,
    api.pages.create,
    async ({ body, by }) => ({
      id: await database.inTransaction((tx) => createPage(tx, body, by, now())),
    }),
    { status: 201 },
  )
  handle(routes, api.pages.checkPath, async ({ body: { path, page } }) => {
    const read = pagePath.safeParse(path)
    const fault = read.success
      ? await pathFault(database, read.data, page)
      : (read.error.issues[0]?.message ?? 'Choose another address')
    return { fault }
  })
  handle(routes, api.pages.save, ({ params, body, by }) =>
    database.inTransaction((tx) => pageDrafts.save(tx, params.id, body, { by, at: now() })),
  )
  handle(routes, api.pages.settings, ({ params, body }) => setPageSettings(platform, params.id, body))
  serveVersions(platform, routes, api.pages, { drafts: pageDrafts, copy: copyPage, remove: deletePage })
  handle(routes, api.pages.previewLink, ({ params }) => previewLink(platform, params.id))

  handle(routes, api.site.view, () => viewSite(platform))
  handle(routes, api.site.setBrand, ({ body }) => setBrand(database, body))
  handle(routes, api.site.checkDomain, ({ body }) => checkDomain(platform.settings, body.domain))
  handle(routes, api.site.setSender, ({ body }) => setSender(database, body))
  handle(routes, api.site.setSettings, ({ body }) => setSiteSettings(database, body))
  handle(routes, api.site.saveSection, ({ body }) => saveSection(platform, body), { status: 201 })
  handle(routes, api.site.deleteSection, ({ params }) => deleteSection(platform, params.id))
  handle(routes, api.site.orderLessons, ({ params, body }) => orderLessons(platform, params.id, body.pages))
  handle(routes, api.courses.list, () => listCourses(platform.database))
  handle(
    routes,
    api.courses.create,
    async ({ body }) => ({
      id: await createCourse(platform.database, body, new Date(platform.clock.now())),
    }),
    { status: 201 },
  )
  handle(routes, api.courses.save, ({ params, body }) => saveCourse(platform.database, params.id, body))

  handle(routes, api.files.pictures, () => listPictures(database))
  routes.use(api.files.uploadPicture.path, raw({ type: 'application/octet-stream', limit: largestPicture }))
  handle(
    routes,
    api.files.uploadPicture,
    async ({ query, request }) => {
      const content = bytesOf(request.body)
      return { id: await database.inTransaction((tx) => storePicture(tx, { ...query, content }, now())) }
    },
    { status: 201 },
  )
  handle(routes, api.files.editPicture, ({ params, body }) => editPicture(platform, params.id, body))
  handle(routes, api.files.deletePicture, ({ params }) => deletePicture(platform, params.id))
  handle(routes, api.files.files, () => listFiles(database))
  handle(
    routes,
    api.files.uploadFile,
    async ({ query, request, by }) => {
      // Not destroyed when it is refused: the browser must be able to send on until it has heard why.
      const bytes = request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>
      return { id: await storeFile(platform, { ...query, bytes }, { by, at: now() }) }
    },
    { status: 201 },
  )
  handle(routes, api.files.editFile, ({ params, body }) => editFile(database, params.id, body))
  handle(routes, api.files.useVersion, ({ params, body }) =>
    useFileVersion(database, params.id, body.version),
  )
  handleStream(routes, api.files.preview, async ({ params, response }) => {
    const found = await database.row<{ preview: Buffer | null }>(
      'select preview from file_version join file on file.id = file_id and number = version where file.id = $1',
      [params.id],
    )
    if (!found?.preview) throw notFound('This preview')
    response.set('cache-control', 'private, max-age=60').type('jpg').send(found.preview)
  })
  handle(routes, api.files.deleteFile, ({ params }) => deleteFile(platform, params.id))
  return routes
}
