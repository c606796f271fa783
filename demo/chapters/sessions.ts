import type { Queries } from '../../server/database/connect.ts'
import type { Person } from '../person.ts'
import { createNamed } from './create.ts'

const day = 86_400_000

/** The Sunday Stitch-Along. */
export interface Sessions {
  stitchAlong: number
}

export const make = async (q: Queries, at: Date): Promise<Sessions> => ({
  stitchAlong: await createNamed(q, 'live_session', 'Sunday Stitch-Along', at),
})

/** Registers, and comes or does not. */
export function live(person: Person, { stitchAlong }: Sessions): void {
  const { chance } = person
  if (!chance.flip(0.15 + person.keen * 0.2)) return
  const at = person.arrival + chance.delay(15 * day)
  const details = { session: stitchAlong }
  if (person.did({ kind: 'sessionRegistered', at, details }) && chance.flip(0.55))
    person.did({ kind: 'sessionAttended', at: at + 3 * day, details })
}
