import { createHmac } from 'node:crypto'
import type { z } from 'zod'
import {
  charge,
  type CancelRequest,
  type Charge,
  type ChargeRequest,
  type RefundRequest,
} from '../../contract/gateway.ts'
import type { Settings } from '../settings.ts'

/** The gateway could not be reached: nothing was done there. */
export class GatewayAway extends Error {}
/** The gateway did not answer: nobody knows whether it was done. */
export class GatewaySilent extends Error {}
/** The gateway says no, and why. */
export class GatewayRefuses extends Error {}

/** Who charges cards. Card data never come here: they are typed into the gateway's own fields. */
export interface PaymentGateway {
  /** The address of the card's fields, for a frame. @param session what the card is kept under */
  cardFields(session: string): string
  /** Asked for again with the same key, it is the same charge. @throws GatewayAway, GatewaySilent, GatewayRefuses */
  charge(request: ChargeRequest): Promise<Charge>
  /** What became of a charge. @throws GatewayAway, GatewaySilent */
  find(key: string): Promise<Charge | null>
  /** No charge is made of this key any more. @returns the one that was made, if one was */
  cancel(request: CancelRequest): Promise<Charge>
  /** @throws GatewayAway, GatewaySilent, GatewayRefuses */
  refund(charge: string, request: RefundRequest): Promise<Charge>
}

const derived = ({ secret }: Pick<Settings, 'secret'>, use: string): string =>
  createHmac('sha256', secret).update(use).digest('base64')

/** What this install and its gateway know of each other. */
export const gatewaySecrets = (settings: Pick<Settings, 'secret'>): { key: string; events: string } => ({
  key: derived(settings, 'gateway key'),
  events: `whsec_${derived(settings, 'gateway events')}`,
})

/** The words of a gateway that could not be connected to: the request never left. */
const isAway = (error: unknown): boolean => {
  const cause = error instanceof Error ? (error.cause as { code?: string } | undefined) : undefined
  return cause?.code === 'ECONNREFUSED' || cause?.code === 'ENOTFOUND' || cause?.code === 'EHOSTUNREACH'
}

/** The gateway of an install: the stand-in that ships with it. */
export function gatewayOf(
  settings: Pick<Settings, 'secret' | 'gatewayPort' | 'gatewayPatience'>,
): PaymentGateway {
  const base = `http://127.0.0.1:${settings.gatewayPort}`
  const { key } = gatewaySecrets(settings)

  async function ask(path: string, body?: object): Promise<Response> {
    try {
      return await fetch(`${base}${path}`, {
        method: body ? 'POST' : 'GET',
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
        ...(body && { body: JSON.stringify(body) }),
        redirect: 'error',
        signal: AbortSignal.timeout(settings.gatewayPatience),
      })
    } catch (error) {
      if (isAway(error)) throw new GatewayAway('the gateway cannot be reached', { cause: error })
      throw new GatewaySilent('the gateway does not answer', { cause: error })
    }
  }
  async function read<T>(shape: z.ZodType<T>, answer: Response): Promise<T> {
    if (answer.status >= 500) throw new GatewaySilent(`the gateway answered ${answer.status}`)
    if (!answer.ok) throw new GatewayRefuses(`the gateway answered ${answer.status}: ${await answer.text()}`)
    return shape.parse(await answer.json())
  }
  return {
    cardFields: (session) => `${base}/card/${session}`,
    charge: async (request) => read(charge, await ask('/charges', request)),
    async find(of) {
      const answer = await ask(`/charges?${new URLSearchParams({ key: of }).toString()}`)
      if (answer.status !== 404) return read(charge, answer)
      await answer.body?.cancel()
      return null
    },
    cancel: async (request) => read(charge, await ask('/charges/cancel', request)),
    refund: async (of, request) => read(charge, await ask(`/charges/${of}/refunds`, request)),
  }
}
