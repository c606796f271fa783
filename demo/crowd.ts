import { chanceFrom } from '../core/chance.ts'
import { domains, firstNames, lastNames, places } from './cast.ts'

/** Own fields that the crowd's files fill in: name and kind. */
export const crowdFields = [
  ['Binding', 'text'],
  ['Books sewn', 'number'],
  ['First book', 'date'],
  ['Has a press', 'yesNo'],
  ['Workshop', 'text'],
] as const

/**
 * The file of a crowd as CSV, piece by piece: as many invented people as are wanted, from the cast of the story.
 * The same seed and numbers give the same people.
 * @param from the number of the first one, so that two files can share a part of their people
 */
export function* crowdFile(people: number, from = 0, seed = 1): Generator<string> {
  yield `Email,First name,Last name,Country,${crowdFields.map(([name]) => name).join(',')}\r\n`
  const chance = chanceFrom(seed)
  let piece = ''
  for (let i = from; i < from + people; i += 1) {
    const first = chance.pick(firstNames)
    const last = chance.pick(lastNames)
    const { country } = chance.weighted(places)
    const domain = chance.weighted(domains)
    const date = `20${10 + chance.below(16)}-0${1 + chance.below(9)}-1${chance.below(10)}`
    const fields = [
      chance.pick(['Coptic', 'Long-stitch', 'Case-bound']),
      chance.below(40),
      date,
      chance.flip(0.3) ? 'yes' : 'no',
      `"${last}, ${country}"`,
    ]
    piece += `${first}.${last}.${i}@${domain},${first},${last},${country},${fields.join(',')}\r\n`
    if (piece.length < 64_000) continue
    yield piece
    piece = ''
  }
  yield piece
}
