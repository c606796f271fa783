import { Router } from 'express'
import * as api from '../../../contract/api.ts'
import { notFound } from '../../http/problems.ts'
import { handle, handleStream } from '../../http/handle.ts'
import { sendFile } from '../../http/sendFile.ts'
import type { WebPlatform } from '../../platform.ts'
import { setTopicManually, tagPerson } from '../describing/tagging.ts'
import { startBulkAction } from './bulkActions.ts'
import { addPerson, editPerson } from './contactEdit.ts'
import { countContacts, listContacts } from './contactList.ts'
import { consentLedger, ledgerCsv, ledgerPdf } from './consentLedger.ts'
import { contactById } from './contacts.ts'
import { erasePerson } from './erasing.ts'
import { csvLines, dataOf, exportCsv, exportJsonLines } from './exports.ts'
import { mergePeople } from './merging.ts'
import { viewPerson } from './personView.ts'

/** People: lists, one person, and what is done to them. */
export function peopleRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database: q, questions } = platform
  const { people } = api
  const now = () => platform.clock.now()

  handle(routes, people.find, ({ body, response }) =>
    questions.whileConnected(response, (tx) => listContacts(tx, body, now())),
  )
  handle(routes, people.count, async ({ body, response }) => ({
    people: await questions.whileConnected(response, (tx) => countContacts(tx, body, now())),
  }))
  handle(routes, people.bulk, async ({ body, by }) => ({ work: await startBulkAction(platform, body, by) }))
  handleStream(routes, people.exportCsv, ({ query, response }) =>
    q.inTransaction((tx) => sendFile(response, 'people.csv', 'text/csv', exportCsv(tx, query.who, now()))),
  )
  handleStream(routes, people.exportJsonLines, ({ query, response }) =>
    q.inTransaction((tx) =>
      sendFile(response, 'people.jsonl', 'application/jsonl', exportJsonLines(tx, query.who, now())),
    ),
  )

  handle(routes, people.create, async ({ body, by }) => ({ id: await addPerson(platform, body, by) }), {
    status: 201,
  })
  handle(routes, people.view, ({ params }) => viewPerson(platform, params.id))
  handle(routes, people.edit, ({ params, body, by }) => editPerson(platform, params.id, body, by))
  handle(routes, people.tag, ({ params, body, by }) => tagPerson(platform, params.id, body, by))
  handle(routes, people.setTopic, ({ params, body, by }) => setTopicManually(platform, params.id, body, by))
  handle(routes, people.merge, ({ params, body, by }) => mergePeople(platform, params.id, body.other, by))
  handle(routes, people.erase, ({ params }) => erasePerson(platform, params.id))

  const dataOrNone = async (id: number): Promise<Record<string, unknown>> => {
    const data = await dataOf(q, id)
    if (!data) throw notFound('This person')
    return data
  }
  handleStream(routes, people.dataJson, async ({ params, response }) => {
    const data = await dataOrNone(params.id)
    response
      .attachment('person.json')
      .type('application/json')
      .send(JSON.stringify(data, null, 2))
  })
  handleStream(routes, people.dataCsv, async ({ params, response }) => {
    const cells = Object.entries(await dataOrNone(params.id)).map(([name, value]) => [
      name,
      typeof value === 'string' ? value : JSON.stringify(value ?? ''),
    ])
    response
      .attachment('person.csv')
      .type('text/csv')
      .send(csvLines([['What', 'Value'], ...cells]))
  })
  handleStream(routes, people.consentPdf, async ({ params, response }) => {
    const { address, firstName, lastName } = await contactById(q, params.id)
    const person = { address, name: `${firstName} ${lastName}`.trim() }
    const entries = await consentLedger(q, params.id)
    const pdf = await ledgerPdf(q, person, entries, new Date(now()))
    response.attachment('consent.pdf').type('application/pdf').send(pdf)
  })
  handleStream(routes, people.consentCsv, async ({ params, response }) => {
    await contactById(q, params.id)
    const csv = ledgerCsv(await consentLedger(q, params.id))
    response.attachment('consent.csv').type('text/csv').send(csv)
  })
  return routes
}
