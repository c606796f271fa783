import { isThrowaway, meantAddress } from './addressDoubts.ts'
import type { FormContent } from './form.ts'

/** What is known of a sending when it is decided whether its address has to be confirmed. */
export interface SendingFacts {
  address: string
  /** ISO 3166-1, by what was typed or by the browser's language; null when nothing tells. */
  country: string | null
  /** The site that it came from, when that is none of ours. */
  site: string | null
  /** Forms that came from the same source within the last hour. */
  fromSource: number
}

/** Far more than a household or a small office sends within an hour. */
const manyFromOneSource = 20

/**
 * Must whoever sends this form confirm the address first? It depends on what was typed and on the form alone, never on
 * who is on the list, so that the answer tells nobody who is.
 */
export function mustConfirm(
  { confirm, domains }: Pick<FormContent, 'confirm' | 'domains'>,
  facts: SendingFacts,
): boolean {
  switch (confirm.when) {
    case 'always':
      return true
    case 'never':
      return false
    case 'byCountry':
      return facts.country === null || confirm.countries.includes(facts.country)
    case 'whenUnsure':
      return (
        isThrowaway(facts.address) ||
        meantAddress(facts.address, domains) !== null ||
        facts.site !== null ||
        facts.fromSource >= manyFromOneSource
      )
  }
}

/** The country of a browser's first language that names one: `de-AT,de;q=0.9` gives AT. */
export function countryOfLanguages(acceptLanguage: string): string | null {
  for (const part of acceptLanguage.split(',').slice(0, 10)) {
    const region = /^\s*[a-z]{2,3}(?:-[A-Z][a-z]{3})?-([A-Z]{2})\b/.exec(part)?.[1]
    if (region) return region
  }
  return null
}
