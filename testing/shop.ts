import { beforeAll } from 'vitest'
import type { z } from 'zod'
import type { OrderRow, OrderView } from '../contract/orders.ts'
import { composer } from '../core/blocks/compose.ts'
import { productContent } from '../core/commerce/product.ts'
import { testCards, type CardBehaviour } from '../standins/gateway/testCards.ts'
import { numberedIds } from './documents.ts'
import { made } from './people.ts'
import { computer, lookAt, publish } from './publishing.ts'
import type { Used } from './useInstall.ts'
import { eventually } from './waiting.ts'

type Given = z.input<typeof productContent>

/** A price that is paid once. */
export const once = (id: string, amount: number, given: object = {}) => ({
  id,
  pays: { by: 'once' as const, amount },
  ...given,
})

const attribute = (markup: string, pattern: RegExp): string => {
  const found = pattern.exec(markup)?.[1]
  if (found === undefined) throw new Error(`the page has no ${pattern.source}: ${markup}`)
  return found.replaceAll('&amp;', '&')
}

/** An order form as a browser shows it. */
export interface ShownForm {
  status: number
  markup: string
  /** Where it is sent to. */
  action: string
  fields: Record<string, string>
  /** The address of the card's fields. */
  card: string | null
  faults: string[]
}

function read(status: number, markup: string): ShownForm {
  const begin = markup.indexOf('<form method="post"')
  const form = begin < 0 ? `${status} ${markup.replace(/<style[^]*?<\/style>/g, '')}` : markup.slice(begin)
  const hidden = [...form.matchAll(/<input\s+type="hidden"\s+name="([^"]+)"\s+value="([^"]*)"/g)]
  return {
    status,
    markup,
    action: attribute(form, /action="([^"]+)"/),
    fields: Object.fromEntries(hidden.map(([, name = '', value = '']) => [name, value])),
    card: /<iframe src="([^"]+)"/.exec(form)?.[1] ?? null,
    faults: [...form.matchAll(/<strong class="fault"[^>]*>([^<]+)</g)].map(([, words = '']) => words),
  }
}

/** Types a test card into the gateway's own fields, as its frame sends it. */
export async function typeCard(
  card: string,
  behaviour: CardBehaviour,
  given: object = {},
): Promise<Response> {
  const typed = { number: testCards[behaviour], expiry: '12/39', code: '123', ...given }
  return fetch(card, {
    method: 'POST',
    headers: { accept: 'application/json' },
    body: new URLSearchParams(typed),
  })
}

/** What somebody buys by, and what comes of it. */
export function buyerOf(on: Used) {
  const get = async (path: string): Promise<ShownForm> => {
    const answer = await lookAt(`${on.install.url}${path}`)
    return read(answer.status, await answer.text())
  }
  /** Presses a button of an order form. @returns where it leads, or the form again */
  async function press(
    form: ShownForm,
    does: 'on' | 'update' | 'pay',
    typed: Record<string, string> = {},
  ): Promise<{ to: string } | ShownForm> {
    const answer = await fetch(`${on.install.url}${form.action}`, {
      method: 'POST',
      redirect: 'manual',
      headers: { 'user-agent': computer },
      body: new URLSearchParams({ ...form.fields, ...typed, do: does }),
    })
    const to = answer.headers.get('location')
    if (to === null) return read(answer.status, await answer.text())
    await answer.body?.cancel()
    return { to }
  }
  /** The same where it is known to lead on. */
  async function leads(
    form: ShownForm,
    does: 'on' | 'pay',
    typed: Record<string, string> = {},
  ): Promise<string> {
    const pressed = await press(form, does, typed)
    if ('to' in pressed) return pressed.to
    throw new Error(`it stays: ${pressed.status} ${pressed.faults.join(' ')}`)
  }
  /** Follows redirects of ours, and stops before those to the gateway. */
  async function follow(to: string): Promise<{ path: string; status: number; text: string }> {
    const answer = await lookAt(to.startsWith('http') ? to : `${on.install.url}${to}`)
    const next = answer.headers.get('location')
    const text = await answer.text()
    if (next === null) return { path: to, status: answer.status, text }
    if (next.startsWith('http') && !next.startsWith(on.install.url))
      return { path: next, status: answer.status, text }
    return follow(next)
  }
  return {
    get,
    press,
    leads,
    follow,
    /** From the order page to the order: the address, the card, and the button. */
    async buy(
      path: string,
      address: string,
      { card = 'approved', ...typed }: { card?: CardBehaviour | null } & Record<string, string | null> = {},
    ): Promise<{ path: string; status: number; text: string }> {
      const given = Object.fromEntries(
        Object.entries(typed).flatMap(([name, value]) => (value === null ? [] : [[name, value]])),
      ) as Record<string, string>
      const first = await get(`/p/${path}`)
      const rest = await get(await leads(first, 'on', { firstName: 'Ada', address, ...given }))
      if (rest.card !== null && card !== null) await typeCard(rest.card, card)
      return follow(await leads(rest, 'pay', given))
    },
  }
}

/** A small shop that takes money: tax of 23 % inside, and what it sells on pages of their own. */
export function useShop(on: Used) {
  const { block } = composer(numberedIds('shop'))
  beforeAll(async () => {
    await on.mara.post('/tax', { tax: 'inside', home: 'IE', rates: [{ country: 'IE', rate: 2_300 }] })
    await on.mara.post('/takes', { takes: 'live' })
  })
  return {
    ...buyerOf(on),
    /** Puts something on sale. @returns its number */
    async sell(name: string, given: Given = {}): Promise<number> {
      const content = productContent.parse({
        title: name,
        description: `All of ${name}.`,
        bringsNothing: true,
        prices: [once('priceone', 700)],
        ...given,
      })
      const { id } = await made<{ id: number }>(on.mara.post('/products', { name, content }))
      const answer = await on.mara.post(`/products/${id}/publish`, { version: 1, revision: 1 })
      if (answer.status !== 204) throw new Error(await answer.text())
      return id
    },
    /** Makes a page where products are sold. @returns its number */
    orderPage: (path: string, products: readonly number[], given: object = {}): Promise<number> =>
      publish(on, path, [
        block('orderForm', {
          offers: products.map((product) => ({ product, price: null })),
          label: 'Pay now',
          ...given,
        }),
      ]),
    orders: async (query = ''): Promise<OrderRow[]> =>
      (await on.mara.get<{ rows: OrderRow[] }>(`/orders${query}`)).rows,
    /** The newest order of an address, once it is as far as this. */
    orderOf: (address: string, state: OrderRow['state'] = 'paid', query = ''): Promise<OrderView> =>
      eventually(async () => {
        const { rows } = await on.mara.get<{ rows: OrderRow[] }>(
          `/orders?search=${encodeURIComponent(address)}${query}`,
        )
        const found = rows.find((each) => each.state === state)
        return found && on.mara.get<OrderView>(`/orders/${found.id}`)
      }),
  }
}
