import { Router } from 'express'
import { z } from 'zod'
import { importChoices } from '../../contract/imports.ts'
import type { Platform } from '../platform.ts'
import { idOf } from '../requests.ts'
import { csvLines } from './exporting.ts'
import { beginCheck, beginImport, beginUndo, faultyLines, listImports, viewImport } from './imports.ts'
import { takeUpload } from './importUpload.ts'
import { sendFile } from './routes.ts'

/** Imports, from the upload to its undoing. */
export function importRoutes(platform: Platform): Router {
  const routes = Router()
  const q = platform.database

  routes.get('/imports', async (_request, response) => {
    response.json(await listImports(q))
  })
  routes.post('/imports', async (request, response) => {
    const { name } = z
      .object({ name: z.string().trim().min(1).max(200).default('people.csv') })
      .parse(request.query)
    // What is still on its way of a file that is refused flows off unread.
    const id = await takeUpload(platform, name, request).finally(() => request.resume())
    response.status(201).json({ id })
  })
  routes.get('/imports/:id', async (request, response) => {
    response.json(await viewImport(q, idOf(request)))
  })
  routes.post('/imports/:id/check', async (request, response) => {
    response.json({ work: await beginCheck(platform, idOf(request), importChoices.parse(request.body)) })
  })
  routes.post('/imports/:id/run', async (request, response) => {
    response.json({ work: await beginImport(platform, idOf(request)) })
  })
  routes.post('/imports/:id/undo', async (request, response) => {
    response.json({ work: await beginUndo(platform, idOf(request)) })
  })
  routes.get('/imports/:id/errors.csv', async (request, response) => {
    const { id, format } = await viewImport(q, idOf(request))
    const pieces = async function* (): AsyncGenerator<string> {
      yield csvLines([['Line', 'What is wrong', ...format.columns]])
      for await (const { line, reason, cells } of faultyLines(q, id))
        yield csvLines([[line, reason, ...cells]])
    }
    await sendFile(response, 'not imported.csv', 'text/csv', pieces())
  })
  return routes
}
