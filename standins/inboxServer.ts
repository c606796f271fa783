import express, { type Express } from 'express'
import { z } from 'zod'
import type { Mailbox } from './mailbox.ts'

const query = z.object({ to: z.string().optional(), search: z.string().optional() })

const rowsShown = 200

/** What the stand-in mail server took, for the application, for tests and for tools. */
export function createInboxServer(mailbox: Mailbox): Express {
  const server = express()
  server.disable('x-powered-by')
  server.get('/messages', (request, response) => {
    response.json(mailbox.list(query.parse(request.query)))
  })
  server.get('/rows', (request, response) => {
    const newest = mailbox.list(query.parse(request.query)).slice(-rowsShown).reverse()
    response.json(newest.map(({ id, receivedAt, subject, to }) => ({ id, receivedAt, subject, to })))
  })
  server.get('/messages/:id', (request, response) => {
    const message = mailbox.get(Number(request.params.id))
    if (message) response.json(message)
    else response.status(404).json({ title: 'No such message' })
  })
  return server
}
