import { randomBytes } from 'node:crypto'
import { Webhook } from 'standardwebhooks'
import type { GatewayEvent } from '../../contract/gateway.ts'

/** Tries again after so long each (ms). */
const pauses = [0, 1_000, 5_000, 30_000]
const patience = 5_000

/**
 * Reports events to a server, signed as the Standard Webhooks specification has it, until it takes them.
 * @param url where they are taken
 */
export function createWebhooks(url: string, secret: string, now: () => Date) {
  const webhook = new Webhook(secret)
  async function post(id: string, body: string): Promise<boolean> {
    const at = now()
    try {
      const answer = await fetch(url, {
        method: 'POST',
        headers: {
          'content-type': 'application/json',
          'webhook-id': id,
          'webhook-timestamp': String(Math.floor(at.getTime() / 1_000)),
          'webhook-signature': webhook.sign(id, at, body),
        },
        body,
        signal: AbortSignal.timeout(patience),
      })
      await answer.body?.cancel()
      return answer.ok
    } catch {
      return false
    }
  }
  async function deliver(id: string, body: string): Promise<void> {
    for (const pause of pauses) {
      await new Promise((resolve) => setTimeout(resolve, pause).unref())
      if (await post(id, body)) return
    }
  }
  return {
    tell({ type, data }: Pick<GatewayEvent, 'type' | 'data'>, { again = false } = {}): void {
      const id = `evt_${randomBytes(12).toString('base64url')}`
      const body = JSON.stringify({ type, timestamp: now().toISOString(), data } satisfies GatewayEvent)
      void deliver(id, body)
      if (again) void deliver(id, body)
    },
  }
}
