import type { Request, Response } from 'express'
import pg from 'pg'
import type { Logger } from 'pino'
import { liveSubject, type LiveSubject } from '../contract/live.ts'
import type { Queries } from './database/connect.ts'

const channel = 'nurtel_live'
const reconnectAfter = 1_000
/** Proxies close silent connections after 30 to 60 s (common practice). */
const heartbeatEvery = 20_000

/** Tells every open screen, when the transaction commits, that something of these subjects changed. */
export async function announce(q: Queries, ...subjects: LiveSubject[]): Promise<void> {
  await q.rows(`select pg_notify('${channel}', subject) from unnest($1::text[]) subject`, [subjects])
}

/** Passes announcements of the database on to the browsers that listen. */
export interface Live {
  /** Answers a request with an endless stream of server-sent events. */
  stream(request: Request, response: Response): void
  close(): Promise<void>
}

export function openLive(databaseUrl: string, log: Logger): Live {
  const listeners = new Set<Response>()
  let client: pg.Client | null = null
  let closed = false
  let retry: NodeJS.Timeout | undefined

  const send = (subject: LiveSubject): void => {
    for (const listener of listeners) listener.write(`event: change\ndata: ${subject}\n\n`)
  }

  const listen = async (): Promise<void> => {
    const fresh = new pg.Client({ connectionString: databaseUrl })
    const again = (): void => {
      fresh.removeAllListeners()
      fresh.on('error', () => undefined)
      if (closed || client !== fresh) return
      client = null
      retry = setTimeout(() => void listen(), reconnectAfter)
    }
    client = fresh
    fresh.on('error', again)
    fresh.on('end', again)
    fresh.on('notification', ({ payload }) => {
      const subject = liveSubject.safeParse(payload)
      if (subject.success) send(subject.data)
    })
    try {
      await fresh.connect()
      await fresh.query(`listen ${channel}`)
      // What changed while nobody listened is not known: everything may have.
      for (const subject of liveSubject.options) send(subject)
    } catch (error) {
      log.warn({ err: error }, 'live updates wait for the database')
      again()
    }
  }
  void listen()

  const heartbeat = setInterval(() => {
    for (const listener of listeners) listener.write(': still here\n\n')
  }, heartbeatEvery)

  return {
    stream(request, response) {
      response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' })
      response.write('retry: 1000\n\n')
      listeners.add(response)
      request.on('close', () => listeners.delete(response))
    },
    async close() {
      closed = true
      clearTimeout(retry)
      clearInterval(heartbeat)
      for (const listener of listeners) listener.end()
      await client?.end().catch(() => undefined)
    },
  }
}
