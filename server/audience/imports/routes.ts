import { Router } from 'express'
import * as api from '../../../contract/api.ts'
import { handle, handleStream } from '../../http/handle.ts'
import { sendFile } from '../../http/sendFile.ts'
import type { Platform } from '../../platform.ts'
import { csvLines } from '../people/exports.ts'
import { startCheck, startImport, startUndo, faultyLines, listImports, viewImport } from './imports.ts'
import { takeUpload } from './upload.ts'

/** Imports, from the upload to its undoing. */
export function importRoutes(platform: Platform): Router {
  const routes = Router()
  const { database: q } = platform
  const { imports } = api

  handle(routes, imports.list, () => listImports(q))
  handle(
    routes,
    imports.upload,
    async ({ query, request }) => ({
      // What is still on its way of a file that is refused flows off unread.
      id: await takeUpload(platform, query.name, request).finally(() => request.resume()),
    }),
    { status: 201 },
  )
  handle(routes, imports.view, ({ params }) => viewImport(q, params.id))
  handle(routes, imports.check, async ({ params, body }) => ({
    work: await startCheck(platform, params.id, body),
  }))
  handle(routes, imports.run, async ({ params }) => ({ work: await startImport(platform, params.id) }))
  handle(routes, imports.undo, async ({ params }) => ({ work: await startUndo(platform, params.id) }))
  handleStream(routes, imports.errorsCsv, async ({ params, response }) => {
    const { id, format } = await viewImport(q, params.id)
    const pieces = async function* (): AsyncGenerator<string> {
      yield csvLines([['Line', 'What is wrong', ...format.columns]])
      for await (const { line, reason, cells } of faultyLines(q, id))
        yield csvLines([[line, reason, ...cells]])
    }
    await sendFile(response, 'not imported.csv', 'text/csv', pieces())
  })
  return routes
}
