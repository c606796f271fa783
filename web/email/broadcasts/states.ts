import type { BroadcastState } from '../../../contract/broadcasts.ts'

/** How each state of a broadcast is shown. */
export const stateMarks = {
  planned: { tone: 'lamp', words: 'planned' },
  preparing: { tone: 'lamp', words: 'preparing' },
  calling: { tone: 'lamp', words: 'about to go' },
  goingOut: { tone: 'lamp', words: 'sending' },
  paused: { tone: 'lamp', words: 'paused' },
  testing: { tone: 'lamp', words: 'testing' },
  out: { tone: 'clear', words: 'sent' },
  stopped: { tone: 'stop', words: 'stopped' },
  calledBack: { tone: 'soft', words: 'called back' },
  notSent: { tone: 'stop', words: 'not sent' },
} as const satisfies Record<BroadcastState, { tone: string; words: string }>

/** What can be done with a broadcast in a state. */
export const possible = {
  planned: ['callBack', 'move'],
  preparing: ['callBack'],
  calling: ['callBack', 'hurry', 'pause'],
  goingOut: ['pause', 'stop'],
  paused: ['resume', 'stop'],
  testing: ['decide', 'stop'],
  out: ['again'],
  stopped: [],
  calledBack: [],
  notSent: [],
} as const satisfies Record<BroadcastState, readonly string[]>

export type Steering = (typeof possible)[BroadcastState][number]

export const can = (state: BroadcastState, does: Steering): boolean =>
  (possible[state] as readonly string[]).includes(does)
