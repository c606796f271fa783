import type { Request, Response } from 'express'
import pg from 'pg'
import type { Logger } from 'pino'
import { liveSubject, type LiveSubject } from '../../contract/live.ts'
import { namedConnection, type Queries } from '../database/connect.ts'

const channel = 'nurtel_live'
const endedChannel = 'nurtel_sign_in_ended'
const reconnectAfter = 1_000
/** Proxies close silent connections after 30 to 60 s (common practice). */
const heartbeatEvery = 20_000

/** Tells every open screen, when the transaction commits, that something of these subjects changed. */
export async function announce(q: Queries, ...subjects: LiveSubject[]): Promise<void> {
  await q.rows(`select pg_notify('${channel}', subject) from unnest($1::text[]) subject`, [subjects])
}

/** Ends the streams that these sign-ins opened, when the transaction commits. @param hashes of their tokens */
export async function endStreamsOf(q: Queries, hashes: readonly string[]): Promise<void> {
  await q.rows(`select pg_notify('${endedChannel}', hash) from unnest($1::text[]) hash`, [hashes])
}

/** Passes announcements of the database on to the browsers that listen. */
export interface Live {
  /**
   * Answers a request with a stream of server-sent events, as long as its sign-in lasts.
   * @param tokenHash of the sign-in
   */
  stream(request: Request, response: Response, tokenHash: string): void
  /** Calls back at each announcement, for what this process keeps in memory. */
  onChange(listener: (subject: LiveSubject) => void): void
  close(): Promise<void>
}

/** @param stillSignedIn which of these sign-ins have not ended */
export function openLive(
  databaseUrl: string,
  log: Logger,
  stillSignedIn: (hashes: readonly string[]) => Promise<ReadonlySet<string>>,
): Live {
  /** Open streams, with the sign-in that opened each. */
  const listeners = new Map<Response, string>()
  const ownListeners: ((subject: LiveSubject) => void)[] = []
  let client: pg.Client | null = null
  let closed = false
  let retry: NodeJS.Timeout | undefined

  const send = (subject: LiveSubject): void => {
    for (const listener of ownListeners) listener(subject)
    for (const listener of listeners.keys()) listener.write(`event: change\ndata: ${subject}\n\n`)
  }

  const endWhere = (hasEnded: (hash: string) => boolean): void => {
    for (const [listener, hash] of listeners) if (hasEnded(hash)) listener.end()
  }

  const listen = async (): Promise<void> => {
    const fresh = new pg.Client({ connectionString: namedConnection(databaseUrl) })
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
    fresh.on('notification', ({ channel: from, payload }) => {
      if (from === endedChannel) {
        endWhere((hash) => hash === payload)
        return
      }
      const subject = liveSubject.safeParse(payload)
      if (subject.success) send(subject.data)
    })
    try {
      await fresh.connect()
      await fresh.query(`listen ${channel}; listen ${endedChannel}`)
      // What changed while nobody listened is not known: everything may have.
      for (const subject of liveSubject.options) send(subject)
    } catch (error) {
      log.warn({ err: error }, 'live updates wait for the database')
      again()
    }
  }
  void listen()

  /** Nobody says when a sign-in runs out: it is looked at with every heartbeat. */
  const endExpired = async (): Promise<void> => {
    if (listeners.size === 0) return
    const lasting = await stillSignedIn([...new Set(listeners.values())])
    endWhere((hash) => !lasting.has(hash))
  }

  const heartbeat = setInterval(() => {
    for (const listener of listeners.keys()) listener.write(': still here\n\n')
    endExpired().catch((error: unknown) => log.warn({ err: error }, 'sign-ins could not be looked at'))
  }, heartbeatEvery)

  return {
    stream(request, response, tokenHash) {
      response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' })
      response.write('retry: 1000\n\n')
      listeners.set(response, tokenHash)
      request.on('close', () => listeners.delete(response))
    },
    onChange: (listener) => void ownListeners.push(listener),
    async close() {
      closed = true
      clearTimeout(retry)
      clearInterval(heartbeat)
      endWhere(() => true)
      await client?.end().catch(() => undefined)
    },
  }
}
