import express, { type ErrorRequestHandler, type Express } from 'express'
import helmet from 'helmet'
import { z } from 'zod'
import { ownHosts } from '../core/workspace/hosts.ts'
import type { Mailbox } from './mailbox.ts'

const query = z.object({ to: z.string().optional(), search: z.string().optional() })

const rowsShown = 200

const isOwn = ownHosts()

/** Says what is wrong in the form of RFC 9457, and nothing of the inside. */
const answerFault: ErrorRequestHandler = (error, _request, response, _next) => {
  const status = error instanceof z.ZodError ? 400 : ((error as { status?: number } | null)?.status ?? 500)
  response
    .status(status)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        status,
        title: status < 500 ? 'This request cannot be read' : 'Something went wrong',
      }),
    )
}

/** What the stand-in mail server took, for the application, for tests and for tools. */
export function createInboxServer(mailbox: Mailbox): Express {
  const server = express()
  server.set('query parser', 'simple')
  server.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: { defaultSrc: ["'none'"], frameAncestors: ["'none'"] },
      },
    }),
  )
  server.use((request, response, next) => {
    if (isOwn(request.headers.host)) next()
    else response.status(421).json({ title: 'Unknown host name' })
  })
  server.get('/messages', (request, response) => {
    response.json(mailbox.list(query.parse(request.query)))
  })
  server.get('/rows', (request, response) => {
    const newest = mailbox.list(query.parse(request.query)).slice(-rowsShown).reverse()
    response.json(
      newest.map(({ id, receivedAt, sentAt, subject, to }) => ({ id, receivedAt, sentAt, subject, to })),
    )
  })
  server.get('/messages/:id', (request, response) => {
    const message = mailbox.get(Number(request.params.id))
    if (message) response.json(message)
    else response.status(404).json({ title: 'No such message' })
  })
  server.delete('/messages', (request, response) => {
    mailbox.empty(z.object({ to: z.string().min(1) }).parse(request.query).to)
    response.status(204).end()
  })
  server.use((_request, response) => {
    response.status(404).json({ title: 'Page not found' })
  })
  server.use(answerFault)
  return server
}
