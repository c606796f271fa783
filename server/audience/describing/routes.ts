import { Router } from 'express'
import * as api from '../../../contract/api.ts'
import { handle } from '../../http/handle.ts'
import type { Platform } from '../../platform.ts'
import { listFields, saveField } from './fields.ts'
import { createTag, deleteTag, editTag, listTags, mergeTags } from './tags.ts'
import { listTopics, saveTopic } from './topics.ts'

/** What people are described by: tags, topics and own fields. */
export function describingRoutes(platform: Platform): Router {
  const routes = Router()
  const { database: q } = platform
  const { tags, topics, fields } = api

  handle(routes, tags.list, () => listTags(q))
  handle(routes, tags.create, async ({ body }) => ({ id: await createTag(platform, body) }), { status: 201 })
  handle(routes, tags.edit, ({ params, body }) => editTag(platform, params.id, body))
  handle(routes, tags.merge, ({ params, body }) => mergeTags(platform, params.id, body.into))
  handle(routes, tags.delete, ({ params }) => deleteTag(platform, params.id))

  handle(routes, topics.list, () => listTopics(q))
  handle(routes, topics.create, async ({ body }) => ({ id: await saveTopic(platform, null, body) }), {
    status: 201,
  })
  handle(routes, topics.edit, async ({ params, body }) => {
    await saveTopic(platform, params.id, body)
  })

  handle(routes, fields.list, () => listFields(q))
  handle(routes, fields.create, async ({ body }) => ({ id: await saveField(platform, null, body) }), {
    status: 201,
  })
  handle(routes, fields.edit, async ({ params, body }) => {
    await saveField(platform, params.id, body)
  })
  return routes
}
