import type { Queries } from '../../server/database/connect.ts'
import type { Person } from '../person.ts'
import { createField } from './create.ts'

/** What Mara asks people about their craft, as own fields. */
export interface Craft {
  sewn: number
  firstBook: number
}

export const make = async (q: Queries, at: Date): Promise<Craft> => ({
  sewn: await createField(q, 'Books sewn', 'number', [], at),
  firstBook: await createField(q, 'First book on', 'date', [], at),
})

export function live({ chance, fields }: Person, { sewn, firstBook }: Craft): void {
  if (chance.flip(0.3)) fields[sewn] = Math.floor(chance.delay(6))
  if (chance.flip(0.2))
    fields[firstBook] = `20${10 + chance.below(16)}-0${1 + chance.below(9)}-1${chance.below(10)}`
}
