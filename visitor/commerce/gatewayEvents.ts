import express, { type RequestHandler } from 'express'
import { gatewayEvent } from '../../contract/gateway.ts'
import { keepEvent } from '../../server/commerce/gatewayEvents.ts'
import { gatewaySecrets } from '../../server/commerce/gateway.ts'
import { signWebhook } from '../../server/followups/outside.ts'
import type { Platform } from '../../server/platform.ts'
import { isSame } from '../../server/signing.ts'

/** An event older or newer than this is refused, so that nobody can send an old one again (s; Standard Webhooks). */
const tolerance = 5 * 60

/** Takes in what the gateway reports, signed as the Standard Webhooks specification has it. */
export function gatewayEvents(platform: Platform): RequestHandler[] {
  const { clock, settings } = platform
  const secret = gatewaySecrets(settings).events
  return [
    express.text({ type: 'application/json', limit: '50kb' }),
    async (request, response) => {
      const id = request.get('webhook-id') ?? ''
      const time = Number(request.get('webhook-timestamp'))
      const body: unknown = request.body
      const given = (request.get('webhook-signature') ?? '').split(' ')
      const isRecent = Math.abs(clock.now() / 1_000 - time) <= tolerance
      if (typeof body !== 'string' || id === '' || id.length > 100 || !isRecent) {
        response.status(400).end()
        return
      }
      // The library's own check asks the clock of the machine; ours may be another one.
      const right = signWebhook(secret, id, time, body)
      if (!given.some((each) => isSame(each, right))) {
        response.status(401).end()
        return
      }
      const read = gatewayEvent.safeParse(JSON.parse(body))
      if (!read.success) {
        response.status(422).end()
        return
      }
      await keepEvent(platform, id, read.data)
      response.status(204).end()
    },
  ]
}
