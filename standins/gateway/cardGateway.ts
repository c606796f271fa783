import express, { type ErrorRequestHandler, type Express, type Request } from 'express'
import { z } from 'zod'
import { cancelRequest, chargeRequest, refundRequest } from '../../contract/gateway.ts'
import { cardFields, cardKept, confirmPage, policyOf } from './cardPages.ts'
import { createLedger, Refused, type Ledger } from './ledger.ts'
import { behaviourOf, hasCheckDigit } from './testCards.ts'
import { createWebhooks } from './webhooks.ts'

export interface GatewayGiven {
  /** Where the gateway is found, and who may show its fields and is told of its events. */
  own: string
  shop: string
  /** Who may ask for charges knows this. */
  key: string
  /** Events are signed with it. */
  secret: string
  file: string | null
  lateAfter?: number
}

const typedCard = z.object({
  number: z.string().max(40).catch(''),
  expiry: z.string().max(10).catch(''),
  code: z.string().max(10).catch(''),
})

/** Why a card cannot be used as it was typed; null when it can. */
function faultOf(typed: z.infer<typeof typedCard>, now: Date): string | null {
  const number = typed.number.replace(/[\s-]/g, '')
  if (!hasCheckDigit(number)) return 'Check the card number: a digit is wrong or missing.'
  if (behaviourOf(number) === null) return 'Only test cards are taken here.'
  const expiry = /^(0[1-9]|1[0-2])\s*\/?\s*(?:20)?(\d\d)$/.exec(typed.expiry.trim())
  if (!expiry) return 'Type when the card expires, such as 04/29.'
  // Good until the end of its month.
  if (Date.UTC(2_000 + Number(expiry[2]), Number(expiry[1]), 1) <= now.getTime())
    return 'This card has expired.'
  return /^\d{3,4}$/.test(typed.code.trim()) ? null : 'Type the security code: three or four digits.'
}

function answerFault(): ErrorRequestHandler {
  return (error, _request, response, _next) => {
    const status =
      error instanceof Refused
        ? error.status
        : error instanceof z.ZodError
          ? 400
          : ((error as { status?: number } | null)?.status ?? 500)
    const title = error instanceof Refused ? error.message : 'This request cannot be fulfilled'
    response.status(status).type('application/problem+json').send(JSON.stringify({ status, title }))
  }
}

function chargeRoutes(server: Express, ledger: Ledger, key: string): void {
  const isOurs = (request: Request): boolean => request.headers.authorization === `Bearer ${key}`
  server.use('/charges', express.json({ limit: '20kb' }), (request, response, next) => {
    if (isOurs(request)) next()
    else response.status(401).json({ title: 'This key is not known' })
  })
  server.post('/charges', (request, response) => {
    const charge = ledger.charge(chargeRequest.parse(request.body))
    // A gateway that never answers: whoever asks must give up by themselves.
    if (charge) response.json(charge)
  })
  server.get('/charges', (request, response) => {
    const found = ledger.byKey(z.object({ key: z.string() }).parse(request.query).key)
    if (found) response.json(found)
    else response.status(404).json({ title: 'There is no such charge' })
  })
  server.get('/charges/balance', (_request, response) => {
    response.json(ledger.balance())
  })
  server.post('/charges/cancel', (request, response) => {
    response.json(ledger.cancel(cancelRequest.parse(request.body)))
  })
  server.post('/charges/:id/refunds', (request, response) => {
    response.json(ledger.refund(request.params.id, refundRequest.parse(request.body)))
  })
}

/**
 * Plays a gateway for cards: its own fields for card data, charges and refunds by key, second confirmation by the
 * bank, and signed events.
 */
export function createCardGateway(given: GatewayGiven, now: () => Date): Express {
  const { own, shop, key, secret, file, lateAfter = 3_000 } = given
  const webhooks = createWebhooks(`${shop}/gateway/events`, secret, now)
  const ledger = createLedger({
    confirmUrl: (id) => `${own}/confirm/${id}`,
    tell: (event, options) => webhooks.tell(event, options),
    file,
    lateAfter,
  })
  const server = express()
  server.disable('x-powered-by')
  server.set('query parser', 'simple')
  const form = express.urlencoded({ extended: false, limit: '5kb' })
  server.use(['/card', '/confirm'], (request, response, next) => {
    const framed = request.baseUrl === '/card'
    response.set({
      'content-security-policy': policyOf(framed ? shop : "'none'"),
      'cache-control': 'no-store',
      'referrer-policy': 'no-referrer',
      'x-content-type-options': 'nosniff',
    })
    next()
  })
  server.get('/card/:session', (request, response) => {
    response.type('html').send(cardFields(request.params.session, ''))
  })
  server.post('/card/:session', form, (request, response) => {
    const typed = typedCard.parse(request.body ?? {})
    const fault = faultOf(typed, now())
    const behaviour = behaviourOf(typed.number.replace(/[\s-]/g, ''))
    const session = request.params.session
    if (fault === null && behaviour) ledger.keepCard(session, behaviour)
    response.status(fault === null ? 200 : 422)
    if (request.accepts(['html', 'json']) === 'json') response.json(fault === null ? {} : { fault })
    else response.type('html').send(fault === null ? cardKept() : cardFields(session, fault))
  })
  server.get('/confirm/:id', (request, response) => {
    const found = ledger.byId(request.params.id)
    if (!found) throw new Refused(404, 'There is no such charge')
    response.type('html').send(confirmPage(found.charge))
  })
  server.post('/confirm/:id', form, (request, response) => {
    const id = request.params.id
    ledger.confirm(id, (request.body as { answer?: unknown } | undefined)?.answer === 'yes')
    response.redirect(303, ledger.byId(id)?.returnUrl ?? shop)
  })
  chargeRoutes(server, ledger, key)
  server.use(answerFault())
  return server
}
