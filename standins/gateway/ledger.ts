import { randomBytes } from 'node:crypto'
import { appendFileSync, existsSync, readFileSync } from 'node:fs'
import {
  charge as chargeShape,
  type CancelRequest,
  type Charge,
  type ChargeRequest,
  type GatewayEvent,
  type RefundRequest,
} from '../../contract/gateway.ts'
import { failureOf, testCards, type CardBehaviour } from './testCards.ts'

/** A request that cannot be fulfilled, with the status that says so. */
export class Refused extends Error {
  readonly status: number
  constructor(status: number, message: string) {
    super(message)
    this.status = status
  }
}

type Told = Pick<GatewayEvent, 'type' | 'data'>

interface Given {
  /** Where the buyer says yes for a charge. */
  confirmUrl: (charge: string) => string
  /** Reports what happened; the same twice when it is `again`. */
  tell: (event: Told, options?: { again?: boolean }) => void
  /** The file that charges are kept in. */
  file: string | null
  /** A late answer comes after so long (ms). */
  lateAfter: number
}

/** All that the gateway knows of cards and charges. */
export interface Ledger {
  /** Keeps a card that was typed for a session. */
  keepCard: (session: string, behaviour: CardBehaviour) => void
  hasCard: (session: string) => boolean
  /** @returns null when no answer ever comes; @throws Refused */
  charge: (request: ChargeRequest) => Charge | null
  byKey: (key: string) => Charge | null
  byId: (id: string) => { charge: Charge; returnUrl: string } | null
  /** No charge of this key is made any more; one that was made stays, and one that waits for a yes is called off. */
  cancel: (request: CancelRequest) => Charge
  confirm: (id: string, yes: boolean) => Charge
  /** All that was charged and given back: how often, and how much (minor units, of whatever currency). */
  balance: () => { charges: number; charged: number; refunded: number }
  /** @throws Refused when there is not so much left */
  refund: (id: string, request: RefundRequest) => Charge
}

interface Entry {
  charge: Charge
  returnUrl: string
  /** Refunds by key: asked for again, none is made twice. */
  refunds: Record<string, number>
}

const random = (prefix: string): string => `${prefix}_${randomBytes(12).toString('base64url')}`

/** What the kept card of this name does. */
const behaviourOfMethod = (method: string): CardBehaviour | null =>
  (Object.keys(testCards) as CardBehaviour[]).find((each) => method.startsWith(`card_${each}_`)) ?? null

function readKept(file: string | null): Entry[] {
  if (file === null || !existsSync(file)) return []
  return readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((line) => {
      try {
        const { charge, ...entry } = JSON.parse(line) as Entry
        return [{ ...entry, charge: chargeShape.parse(charge) }]
      } catch {
        // A last line that was cut off by a crash.
        return []
      }
    })
}

export function createLedger({ confirmUrl, tell, file, lateAfter }: Given): Ledger {
  const cards = new Map<string, string>()
  const byKey = new Map<string, Entry>()
  const byId = new Map<string, Entry>()
  const put = (entry: Entry): Entry => {
    byKey.set(entry.charge.key, entry)
    byId.set(entry.charge.id, entry)
    return entry
  }
  const keep = (entry: Entry): Charge => {
    put(entry)
    if (file !== null) appendFileSync(file, `${JSON.stringify(entry)}\n`)
    return entry.charge
  }
  for (const entry of readKept(file)) put(entry)

  const found = (id: string): Entry => {
    const entry = byId.get(id)
    if (!entry) throw new Refused(404, 'There is no such charge')
    return entry
  }
  const change = (entry: Entry, to: Partial<Charge>): Charge => {
    const charge = keep({ ...entry, charge: { ...entry.charge, ...to } })
    tell({ type: 'charge.changed', data: charge })
    return charge
  }
  const fresh = (request: Pick<ChargeRequest, 'key' | 'amount' | 'currency'>): Charge => ({
    id: random('ch'),
    key: request.key,
    amount: request.amount,
    currency: request.currency,
    state: 'paid',
    failure: null,
    confirmUrl: null,
    method: null,
    refunded: 0,
  })

  function answer(request: ChargeRequest, charge: Charge, behaviour: CardBehaviour, method: string): Charge {
    const entry = (changed: Partial<Charge>): Entry => ({
      charge: { ...charge, method, ...changed },
      returnUrl: request.returnUrl,
      refunds: {},
    })
    const failure = failureOf[behaviour]
    if (failure !== null) return keep(entry({ state: 'failed', failure, method: null }))
    if (behaviour === 'confirm' && request.session !== null)
      return keep(entry({ state: 'confirm', confirmUrl: confirmUrl(charge.id) }))
    if (behaviour === 'late') {
      const made = keep(entry({ state: 'asked' }))
      setTimeout(() => change(found(charge.id), { state: 'paid' }), lateAfter).unref()
      return made
    }
    const paid = keep(entry({}))
    tell({ type: 'charge.changed', data: paid }, { again: behaviour === 'twice' })
    if (behaviour === 'disputed') tell({ type: 'charge.disputed', data: paid })
    return paid
  }

  return {
    keepCard: (session, behaviour) =>
      void cards.set(session, `card_${behaviour}_${randomBytes(6).toString('hex')}`),
    hasCard: (session) => cards.has(session),
    charge(request) {
      const before = byKey.get(request.key)
      if (before) {
        const { amount, currency } = before.charge
        if (amount !== request.amount || currency !== request.currency)
          throw new Refused(409, 'This key was used for another charge')
        return before.charge
      }
      const method = request.method ?? cards.get(request.session ?? '') ?? null
      const behaviour = method === null ? null : behaviourOfMethod(method)
      const charge = fresh(request)
      if (method === null || behaviour === null) return { ...charge, state: 'failed', failure: 'noCard' }
      return behaviour === 'never' ? null : answer(request, charge, behaviour, method)
    },
    byKey: (key) => byKey.get(key)?.charge ?? null,
    byId: (id) => byId.get(id) ?? null,
    cancel(request) {
      const before = byKey.get(request.key)
      const off = { state: 'failed', failure: 'cancelled', method: null } as const
      if (before) return before.charge.state === 'confirm' ? change(before, off) : before.charge
      return keep({ charge: { ...fresh(request), ...off }, returnUrl: '', refunds: {} })
    },
    confirm(id, yes) {
      const entry = found(id)
      if (entry.charge.state !== 'confirm') return entry.charge
      return change(
        entry,
        yes ? { state: 'paid' } : { state: 'failed', failure: 'notConfirmed', method: null },
      )
    },
    balance() {
      const paid = [...byId.values()].filter(({ charge }) => charge.state === 'paid')
      const sum = (of: (charge: Charge) => number): number =>
        paid.reduce((all, { charge }) => all + of(charge), 0)
      return {
        charges: paid.length,
        charged: sum(({ amount }) => amount),
        refunded: sum(({ refunded }) => refunded),
      }
    },
    refund(id, { key, amount }) {
      const entry = found(id)
      const { charge, refunds } = entry
      if (refunds[key] !== undefined) return charge
      if (charge.state !== 'paid' || charge.refunded + amount > charge.amount)
        throw new Refused(422, 'That is more than was paid')
      return keep({
        ...entry,
        charge: { ...charge, refunded: charge.refunded + amount },
        refunds: { ...refunds, [key]: amount },
      })
    },
  }
}
