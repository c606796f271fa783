import type { IncomingMessage } from 'node:http'
import type { Request } from 'express'
import { isbot } from 'isbot'
import type { Site } from '../../server/pages/site.ts'
import { deviceOf, type Device, type Visits } from '../../server/pages/visits.ts'
import { sourceOf } from '../capture/submission.ts'

const wantsNoCount = (request: IncomingMessage): boolean =>
  request.headers.dnt === '1' || request.headers['sec-gpc'] === '1'

/** What a browser says of itself, looked at once each: the expression that knows robots is long. */
interface Agent {
  robot: boolean
  device: Device
}
const agents = new Map<string, Agent>()
const mostRemembered = 1_000

function agentOf({ headers: { 'user-agent': words = '' } }: IncomingMessage): Agent {
  const known = agents.get(words)
  if (known) return known
  if (agents.size >= mostRemembered) agents.clear()
  const found = { robot: isbot(words), device: deviceOf(words) }
  agents.set(words, found)
  return found
}

/** Is it somebody who reads, no robot that looks? */
export const isRead = (request: IncomingMessage): boolean =>
  request.method === 'GET' && !agentOf(request).robot

/**
 * Records a look at a page, unless a robot looks, the reader's browser asks not to be counted, or the marketer does
 * not want to count.
 * @param visit.query what the address carries after `?`
 * @param visit.contact who reads, when they are known
 */
export function countVisit(
  visits: Visits,
  site: Site,
  page: number,
  request: IncomingMessage,
  {
    query,
    contact,
    rehearsal = false,
    ip,
  }: { query: Request['query']; contact: number | null; rehearsal?: boolean; ip: string },
): void {
  if (!site.settings.countVisits || wantsNoCount(request) || !isRead(request)) return
  visits.record({
    page,
    ip,
    userAgent: request.headers['user-agent'] ?? '',
    contact,
    rehearsal,
    device: agentOf(request).device,
    source: Object.keys(query).length > 0 ? sourceOf(query) : {},
  })
}
