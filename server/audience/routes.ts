import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import { Router, type Response } from 'express'
import { z } from 'zod'
import {
  bulkRequest,
  contactQuery,
  fieldEdit,
  mergeRequest,
  personEdit,
  personMerge,
  personNew,
  selection,
  taggingRequest,
  thingEdit,
  topicEdit,
  topicRequest,
} from '../../contract/audience.ts'
import { sampleRequest, segmentEdit, whyRequest } from '../../contract/segments.ts'
import type { Platform, WebPlatform } from '../platform.ts'
import { notFound } from '../problems.ts'
import { idOf } from '../requests.ts'
import { signedInOf } from '../workspace/gate.ts'
import { beginBulk } from './bulk.ts'
import { addPerson, editPerson } from './contactEdit.ts'
import { contactById, personNow } from './contacts.ts'
import { erasePerson } from './erasing.ts'
import { csvLines, dataOf, exportCsv, exportJsonLines } from './exporting.ts'
import { listFields, saveField } from './fields.ts'
import { mergePeople } from './merging.ts'
import { countContacts, listContacts } from './people.ts'
import { viewPerson } from './person.ts'
import { deleteSegment, listSegments, loadVocabulary, sampleOf, saveSegment, whyOf } from './segments.ts'
import { tagPerson } from './tagging.ts'
import { deleteTag, editTag, listTags, mergeTags } from './tags.ts'
import { listTopics, saveTopic, setTopic } from './topics.ts'

const byName = (response: Response): string => signedInOf(response).account.name

/** Sends pieces as a file to be saved. A fault before the first piece is answered as any other. */
export async function sendFile(
  response: Response,
  name: string,
  mediaType: string,
  pieces: AsyncGenerator<string>,
): Promise<void> {
  const first = await pieces.next()
  response.attachment(name).type(mediaType)
  const rest = async function* (): AsyncGenerator<string> {
    if (!first.done) yield first.value
    yield* pieces
  }
  await pipeline(Readable.from(rest()), response)
}

/** The selection of an export, which is opened as a link, in its address. */
const exportQuery = z.object({
  who: z
    .string()
    .max(20_000)
    .default('{}')
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text)
      } catch {
        context.issues.push({ code: 'custom', input: text, message: 'This is no selection of people' })
        return z.NEVER
      }
    })
    .pipe(selection),
})

/** People: lists, one person, and what is done to them. */
export function peopleRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const q = platform.database
  const now = () => platform.clock.now()

  routes.post('/people/find', async (request, response) => {
    const query = contactQuery.parse(request.body)
    response.json(await platform.questions.whileConnected(response, (tx) => listContacts(tx, query, now())))
  })
  routes.post('/people/count', async (request, response) => {
    const who = selection.parse(request.body)
    const people = await platform.questions.whileConnected(response, (tx) => countContacts(tx, who, now()))
    response.json({ people })
  })
  routes.post('/people/sample', async (request, response) => {
    const { tree } = sampleRequest.parse(request.body)
    response.json(await platform.questions.whileConnected(response, (tx) => sampleOf(tx, tree, now())))
  })
  routes.post('/people/why', async (request, response) => {
    const { tree, contact } = whyRequest.parse(request.body)
    response.json(await platform.questions.whileConnected(response, (tx) => whyOf(tx, tree, contact, now())))
  })
  routes.post('/people/bulk', async (request, response) => {
    response.json({ work: await beginBulk(platform, bulkRequest.parse(request.body), byName(response)) })
  })
  routes.get('/people/export.:format', async (request, response) => {
    const { who } = exportQuery.parse(request.query)
    const { format } = request.params
    if (format !== 'csv' && format !== 'jsonl') throw notFound('This format')
    await q.inTransaction((tx) =>
      format === 'csv'
        ? sendFile(response, 'people.csv', 'text/csv', exportCsv(tx, who, now()))
        : sendFile(response, 'people.jsonl', 'application/jsonl', exportJsonLines(tx, who, now())),
    )
  })

  routes.post('/people', async (request, response) => {
    response
      .status(201)
      .json({ id: await addPerson(platform, personNew.parse(request.body), byName(response)) })
  })
  routes.get('/people/:id', async (request, response) => {
    response.json(await viewPerson(platform, idOf(request)))
  })
  routes.post('/people/:id', async (request, response) => {
    await editPerson(platform, idOf(request), personEdit.parse(request.body), byName(response))
    response.status(204).end()
  })
  routes.post('/people/:id/tags', async (request, response) => {
    await tagPerson(platform, idOf(request), taggingRequest.parse(request.body), byName(response))
    response.status(204).end()
  })
  routes.post('/people/:id/topics', async (request, response) => {
    const { topic, agreed } = topicRequest.parse(request.body)
    await q.inTransaction(async (tx) => {
      const contact = await contactById(tx, idOf(request), 'change')
      const wording = agreed ? 'Agreed, as the team says' : 'No longer wants it, as the team says'
      const at = personNow(platform.clock, contact)
      await setTopic(tx, { contact: contact.id, topic, agreed, wording, by: byName(response), at })
    })
    response.status(204).end()
  })
  routes.post('/people/:id/merge', async (request, response) => {
    await mergePeople(platform, idOf(request), personMerge.parse(request.body).other, byName(response))
    response.status(204).end()
  })
  routes.post('/people/:id/erase', async (request, response) => {
    await erasePerson(platform, idOf(request))
    response.status(204).end()
  })
  routes.get('/people/:id/data.json', async (request, response) => {
    const data = await dataOf(q, idOf(request))
    if (!data) throw notFound('This person')
    response
      .attachment('person.json')
      .type('application/json')
      .send(JSON.stringify(data, null, 2))
  })
  routes.get('/people/:id/data.csv', async (request, response) => {
    const data = await dataOf(q, idOf(request))
    if (!data) throw notFound('This person')
    const cells = Object.entries(data).map(([name, value]) => [
      name,
      typeof value === 'string' ? value : JSON.stringify(value ?? ''),
    ])
    response
      .attachment('person.csv')
      .type('text/csv')
      .send(csvLines([['What', 'Value'], ...cells]))
  })
  return routes
}

/** What people are described by: tags, topics, own fields and segments. */
export function describingRoutes(platform: Platform): Router {
  const routes = Router()
  const q = platform.database

  routes.get('/tags', async (_request, response) => {
    response.json(await listTags(q))
  })
  routes.post('/tags/:id', async (request, response) => {
    await editTag(platform, idOf(request), thingEdit.parse(request.body))
    response.status(204).end()
  })
  routes.post('/tags/:id/merge', async (request, response) => {
    await mergeTags(platform, idOf(request), mergeRequest.parse(request.body).into)
    response.status(204).end()
  })
  routes.post('/tags/:id/delete', async (request, response) => {
    await deleteTag(platform, idOf(request))
    response.status(204).end()
  })

  routes.get('/topics', async (_request, response) => {
    response.json(await listTopics(q))
  })
  routes.post('/topics', async (request, response) => {
    response.status(201).json({ id: await saveTopic(platform, null, topicEdit.parse(request.body)) })
  })
  routes.post('/topics/:id', async (request, response) => {
    response.json({ id: await saveTopic(platform, idOf(request), topicEdit.parse(request.body)) })
  })

  routes.get('/fields', async (_request, response) => {
    response.json(await listFields(q))
  })
  routes.post('/fields', async (request, response) => {
    response.status(201).json({ id: await saveField(platform, null, fieldEdit.parse(request.body)) })
  })
  routes.post('/fields/:id', async (request, response) => {
    response.json({ id: await saveField(platform, idOf(request), fieldEdit.parse(request.body)) })
  })

  routes.get('/vocabulary', async (_request, response) => {
    response.json(await loadVocabulary(q))
  })
  routes.get('/segments', async (_request, response) => {
    response.json(await listSegments(platform))
  })
  routes.post('/segments', async (request, response) => {
    response.status(201).json({ id: await saveSegment(platform, null, segmentEdit.parse(request.body)) })
  })
  routes.post('/segments/:id', async (request, response) => {
    response.json({ id: await saveSegment(platform, idOf(request), segmentEdit.parse(request.body)) })
  })
  routes.post('/segments/:id/delete', async (request, response) => {
    await deleteSegment(platform, idOf(request))
    response.status(204).end()
  })
  return routes
}
