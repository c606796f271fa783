import { beforeAll } from 'vitest'
import type { FunnelCheck, FunnelView } from '../contract/funnels.ts'
import { funnelStarters } from '../core/funnels/starters.ts'
import { made } from './people.ts'
import type { Used } from './useInstall.ts'

/** A funnel that was made of a starter. */
interface Begun {
  id: number
  path: string
}

/** Makes funnels of starters in an install that has a file, tax, and an address. */
export function useFunnels(on: Used) {
  let count = 0
  let file = 0
  beforeAll(async () => {
    const sent = await on.mara.send('/files/upload?name=guide.txt', 'Fold along the grain.')
    file = ((await sent.json()) as { id: number }).id
    await on.mara.post('/tax', { tax: 'inside', home: 'NL', rates: [{ country: 'NL', rate: 2_100 }] })
    await on.q.rows(`update business set postal_address = '3 Mill Lane, 1011 AB Amsterdam'`)
  })
  const check = (id: number): Promise<FunnelCheck> => on.mara.get(`/funnels/${id}/check`)
  return {
    /** The file of the Library that a funnel can give. */
    file: (): number => file,
    begin: async (starter: string, rest: object = {}): Promise<Begun> => {
      count += 1
      const path = `start-${count}`
      const goal = funnelStarters.find((each) => each.id === starter)?.goal ?? 'nothing'
      const body = {
        name: `Started ${count}`,
        goal,
        labels: ['new'],
        starter,
        path,
        currency: null,
        opens: starter === 'waiting-list' ? '2030-03-01' : null,
        ...rest,
      }
      return { ...(await made<{ id: number }>(on.mara.post('/funnels', body))), path }
    },
    view: (id: number): Promise<FunnelView> => on.mara.get(`/funnels/${id}`),
    check,
    errorsOf: async (id: number): Promise<string[]> =>
      (await check(id)).filter(({ level }) => level === 'error').map(({ words }) => words),
  }
}
