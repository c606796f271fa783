/** Names of ISO 3166-1 alpha-2 codes by Unicode's CLDR, which the runtime carries; a code without a name is none. */
const named = (language: string): Intl.DisplayNames =>
  new Intl.DisplayNames(language, { type: 'region', fallback: 'none' })
const english = named('en')

/** What that data names beside countries: unions, the rest of an ocean, codes for tests. */
const noCountries = new Set(['EU', 'EZ', 'QO', 'UN', 'XA', 'XB', 'ZZ'])

const letters = Array.from({ length: 26 }, (_, i) => String.fromCharCode(65 + i))

/** A code that was replaced (DD, UK) is written as its follower, and is none itself. */
const todays = (code: string): string => Intl.getCanonicalLocales(`und-${code}`)[0]?.slice(4) ?? code

let known: ReadonlySet<string> | undefined

/** The codes of all countries as they are written today; found once, since a list of a million people asks for each. */
function codes(): ReadonlySet<string> {
  known ??= new Set(
    letters
      .flatMap((first) => letters.map((second) => first + second))
      .filter((code) => !noCountries.has(code) && todays(code) === code && english.of(code) !== undefined),
  )
  return known
}

export const isCountry = (code: string): boolean => codes().has(code)

/** "Ireland" for "IE", in any case; what is no code is called what it is. */
export function countryName(code: string): string {
  const upper = code.toUpperCase()
  return isCountry(upper) ? (english.of(upper) ?? code) : code
}

/** The codes of all countries, by their English names. */
export function countryCodes(): string[] {
  return [...codes()].sort((a, b) => countryName(a).localeCompare(countryName(b), 'en'))
}

/** Languages in which lists name countries; the CLDR has them all, these are the usual ones. */
const languages = ['en', 'de', 'fr', 'es', 'it', 'pt', 'nl', 'sv', 'da', 'nb', 'fi', 'pl', 'cs', 'ga']

/** Common ways of writing that no language calls the official one. */
const alsoCalled: Readonly<Record<string, string>> = {
  usa: 'US',
  america: 'US',
  greatbritain: 'GB',
  england: 'GB',
  scotland: 'GB',
  wales: 'GB',
  northernireland: 'GB',
  republicofireland: 'IE',
  czechrepublic: 'CZ',
  holland: 'NL',
}

const plain = (name: string): string =>
  name
    .normalize('NFD')
    .toLowerCase()
    .replace(/[^\p{L}]/gu, '')

let byName: ReadonlyMap<string, string> | undefined

/** The first language wins where two call different countries by one name. */
function codesByName(): ReadonlyMap<string, string> {
  if (byName) return byName
  const found = new Map(Object.entries(alsoCalled))
  for (const names of languages.map(named))
    for (const code of codes()) {
      const name = plain(names.of(code) ?? '')
      if (name !== '' && !found.has(name)) found.set(name, code)
    }
  byName = found
  return found
}

/** The code of a country that somebody wrote as a code or by its name in a usual language; null when it is none. */
export function countryFrom(typed: string): string | null {
  const text = typed.trim()
  const code = text.toUpperCase()
  if (isCountry(code)) return code
  if (/^[A-Z]{2}$/.test(code)) return isCountry(todays(code)) ? todays(code) : null
  return codesByName().get(plain(text)) ?? null
}
