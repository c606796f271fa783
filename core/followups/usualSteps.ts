import type { Condition } from '../audience/segments/condition.ts'
import type { Program } from './program.ts'
import type { SendStep, Step } from './step.ts'

/** What nearly all programs begin as: nothing starts them yet, and people come in once. */
export const usual = { startsWhen: [], reentry: 'never', leavesWhen: [] } satisfies Partial<Program>

export const send = (id: string, email: number, rest: Partial<SendStep> = {}): Step => ({
  kind: 'send',
  id,
  email,
  ...rest,
})

export const days = (id: string, amount: number): Step => ({ kind: 'waitFor', id, amount, unit: 'days' })

/** A morning on which people read: weekdays, in their own zone. */
export const morning = (id: string): Step => ({
  kind: 'waitTime',
  id,
  weekdays: [1, 2, 3, 4, 5],
  from: '09:00',
  to: '11:00',
  clocks: 'person',
})

export const opened = (email: number): Condition => ({
  kind: 'did',
  activity: 'emailOpened',
  details: { email },
  atLeast: 1,
})
