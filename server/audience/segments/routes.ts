import { Router } from 'express'
import * as api from '../../../contract/api.ts'
import { handle } from '../../http/handle.ts'
import type { WebPlatform } from '../../platform.ts'
import { deleteSegment, listSegments, loadVocabulary, sampleOf, saveSegment, whyOf } from './segments.ts'

/** Segments, and what their conditions find and speak of. */
export function segmentRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database: q, questions, clock } = platform
  const { segments } = api

  handle(routes, segments.sample, ({ body, response }) =>
    questions.whileConnected(response, (tx) => sampleOf(tx, body.tree, clock.now())),
  )
  handle(routes, segments.why, ({ body, response }) =>
    questions.whileConnected(response, (tx) => whyOf(tx, body.tree, body.contact, clock.now())),
  )
  handle(routes, segments.vocabulary, () => loadVocabulary(q))
  handle(routes, segments.list, () => listSegments(platform))
  handle(routes, segments.create, async ({ body }) => ({ id: await saveSegment(platform, null, body) }), {
    status: 201,
  })
  handle(routes, segments.edit, async ({ params, body }) => {
    await saveSegment(platform, params.id, body)
  })
  handle(routes, segments.delete, ({ params }) => deleteSegment(platform, params.id))
  return routes
}
