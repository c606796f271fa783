import { z } from 'zod'
import { countryFrom } from '../people/country.ts'
import { parseAddress, type Address } from '../people/address.ts'
import { builtInField, type BuiltInField } from '../segments/condition.ts'
import { readFieldValue, type Field, type FieldValue } from '../describing/field.ts'

/** What a column of a file holds: one of the things everybody has, an own field, tags, or nothing of use. */
export const columnTarget = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('skip') }),
  z.object({ kind: z.literal('builtIn'), field: builtInField }),
  z.object({ kind: z.literal('own'), field: z.number().int().positive() }),
  z.object({ kind: z.literal('tags') }),
])
export type ColumnTarget = z.infer<typeof columnTarget>

const skip: ColumnTarget = { kind: 'skip' }

/** Names that columns go by, without regard to case, spaces and signs. */
const usualNames: Record<BuiltInField, readonly string[]> = {
  address: ['email', 'emailaddress', 'mail', 'address', 'emailaddresse', 'epost', 'correo', 'courriel'],
  firstName: ['firstname', 'first', 'givenname', 'forename', 'name', 'vorname', 'prenom', 'nombre'],
  lastName: ['lastname', 'last', 'surname', 'familyname', 'nachname', 'nom', 'apellido'],
  phone: ['phone', 'phonenumber', 'mobile', 'telephone', 'tel', 'cell', 'telefon'],
  country: ['country', 'countrycode', 'land', 'pays'],
  language: ['language', 'lang', 'locale', 'sprache'],
  zone: ['timezone', 'zone', 'tz', 'zeitzone'],
}

const plain = (name: string): string =>
  name
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]/gu, '')

/** At least this part of a column's cells must look like something for the column to be taken for it. */
const mostCells = 0.8

const looks: readonly [BuiltInField, (cell: string) => boolean][] = [
  ['address', (cell) => parseAddress(cell) !== null],
  ['phone', (cell) => /^\+\d[\d\s()./-]{6,20}$/.test(cell)],
  [
    'zone',
    (cell) => /^(Africa|America|Antarctica|Asia|Atlantic|Australia|Europe|Indian|Pacific)\/[A-Z]/.test(cell),
  ],
]

/**
 * What each column of a file probably holds, told by its name, and where that says nothing by how its cells look.
 * Nothing is taken twice; what cannot be told is skipped.
 * @param samples some rows of the file
 */
export function guessColumns(
  names: readonly string[],
  samples: readonly (readonly string[])[],
  fields: readonly Field[],
): ColumnTarget[] {
  const taken = new Set<string>()
  const take = (target: ColumnTarget): ColumnTarget => {
    const key = JSON.stringify(target)
    if (taken.has(key)) return skip
    taken.add(key)
    return target
  }
  const byName = names.map((name): ColumnTarget => {
    const wanted = plain(name)
    const own = fields.find((field) => plain(field.name) === wanted)
    if (own) return take({ kind: 'own', field: own.id })
    if (['tags', 'tag', 'labels'].includes(wanted)) return take({ kind: 'tags' })
    const builtIn = builtInField.options.find((field) => usualNames[field].includes(wanted))
    return builtIn ? take({ kind: 'builtIn', field: builtIn }) : skip
  })
  return byName.map((target, column) => {
    if (target.kind !== 'skip') return target
    const cells = samples.map((row) => row[column]?.trim() ?? '').filter(Boolean)
    const found = looks.find(
      ([, fits]) => cells.length > 0 && cells.filter(fits).length >= cells.length * mostCells,
    )
    return found ? take({ kind: 'builtIn', field: found[0] }) : skip
  })
}

/** What one line of a file says of a person. What is blank says nothing. */
export interface ImportedPerson {
  address: Address
  builtIn: Partial<Record<Exclude<BuiltInField, 'address'>, string>>
  fields: Record<number, FieldValue>
  tags: string[]
}

export type ImportedLine = { ok: true; person: ImportedPerson } | { ok: false; reason: string }

/** How the world's own notations are read: given by the server, since core knows no table of phones. */
export interface Notations {
  phone(typed: string, country: string): string | null
  zone(typed: string): boolean
}

const longestName = 80
const longestLanguage = 20
const mostTags = 50

const quoted = (text: string): string => `“${text.length > 60 ? `${text.slice(0, 60)}…` : text}”`

/** Takes a line of cells apart by what its columns hold. */
export function lineReader(
  columns: readonly ColumnTarget[],
  fields: readonly Field[],
  notations: Notations,
): (cells: readonly string[]) => ImportedLine {
  const ownFields = new Map(fields.map((field) => [field.id, field]))
  return (cells) => {
    const typed: Partial<Record<BuiltInField, string>> = {}
    const values: Record<number, FieldValue> = {}
    let tags: string[] = []
    for (const [i, target] of columns.entries()) {
      const cell = cells[i]?.trim() ?? ''
      if (cell === '' || target.kind === 'skip') continue
      if (target.kind === 'builtIn') typed[target.field] = cell
      else if (target.kind === 'tags')
        tags = cell
          .split(/[,;|]/)
          .map((tag) => tag.trim())
          .filter(Boolean)
      else {
        const field = ownFields.get(target.field)
        const reading = field && readFieldValue(field, cell)
        if (reading && !reading.ok) return reading
        if (reading?.ok && reading.value !== null) values[target.field] = reading.value
      }
    }
    const { address: typedAddress = '', ...builtIn } = typed
    if (typedAddress === '') return { ok: false, reason: 'This line has no email address' }
    const address = parseAddress(typedAddress)
    if (!address) return { ok: false, reason: `${quoted(typedAddress)} is not an email address` }
    for (const name of [builtIn.firstName, builtIn.lastName])
      if (name !== undefined && name.length > longestName)
        return {
          ok: false,
          reason: `A name of ${name.length} characters is too long: at most ${longestName}`,
        }
    if (builtIn.language !== undefined && builtIn.language.length > longestLanguage)
      return {
        ok: false,
        reason: `${quoted(builtIn.language)} is not a language; use a short name or code, such as en`,
      }
    if (tags.length > mostTags)
      return { ok: false, reason: `${tags.length} tags are too many for one person: at most ${mostTags}` }
    const long = tags.find((tag) => tag.length > longestName)
    if (long)
      return { ok: false, reason: `The tag ${quoted(long)} is too long: at most ${longestName} characters` }
    if (builtIn.country !== undefined) {
      const country = countryFrom(builtIn.country)
      if (!country)
        return {
          ok: false,
          reason: `${quoted(builtIn.country)} is not a country; use its name or two-letter code, such as IE`,
        }
      builtIn.country = country
    }
    if (builtIn.phone !== undefined) {
      const phone = notations.phone(builtIn.phone, builtIn.country ?? '')
      if (!phone)
        return {
          ok: false,
          reason: `${quoted(builtIn.phone)} is not a phone number with a country code, such as +353`,
        }
      builtIn.phone = phone
    }
    if (builtIn.zone !== undefined && !notations.zone(builtIn.zone))
      return { ok: false, reason: `${quoted(builtIn.zone)} is not a time zone such as Europe/Dublin` }
    return { ok: true, person: { address, builtIn, fields: values, tags } }
  }
}
