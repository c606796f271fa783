import type { Behaviour } from './behaviour.ts'

/** Somebody to rehearse with, by how they behave. */
export interface Persona {
  id: string
  name: string
  words: string
  behaviour: Behaviour
}

const reads = { opens: 100, clicks: 0, opensAfter: 120, does: [] } satisfies Behaviour

/** The rehearsal people of the demo's story. */
export const personas: readonly Persona[] = [
  {
    id: 'ada',
    name: 'Ada Finch',
    words: 'opens and clicks everything',
    behaviour: { ...reads, clicks: 100 },
  },
  { id: 'bram', name: 'Bram Okafor', words: 'opens, never clicks', behaviour: reads },
  { id: 'chiyo', name: 'Chiyo Larsen', words: 'never opens', behaviour: { ...reads, opens: 0 } },
  {
    id: 'dov',
    name: 'Dov Marek',
    words: 'buys on the third email',
    behaviour: {
      ...reads,
      clicks: 100,
      does: [
        {
          does: { kind: 'productBought' },
          after: { what: 'email', nth: 3, span: { amount: 3, unit: 'hours' } },
        },
      ],
    },
  },
  {
    id: 'elif',
    name: 'Elif Santos',
    words: 'registers for a session a day later',
    behaviour: {
      ...reads,
      does: [
        { does: { kind: 'sessionRegistered' }, after: { what: 'start', span: { amount: 1, unit: 'days' } } },
      ],
    },
  },
  {
    id: 'femi',
    name: 'Femi Novak',
    words: 'leaves the checkout twice, then buys',
    behaviour: {
      ...reads,
      does: [
        { does: { kind: 'checkoutLeft' }, after: { what: 'start', span: { amount: 1, unit: 'days' } } },
        { does: { kind: 'checkoutLeft' }, after: { what: 'start', span: { amount: 2, unit: 'days' } } },
        { does: { kind: 'productBought' }, after: { what: 'start', span: { amount: 4, unit: 'days' } } },
      ],
    },
  },
]
