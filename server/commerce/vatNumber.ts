import { checkVAT, countries } from 'jsvat'

/** The countries of the union whose businesses pay the tax at home (from memory; Greece is EL in VAT numbers). */
const union = new Set(
  'AT BE BG CY CZ DE DK EE EL GR ES FI FR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK'.split(' '),
)

/** The country of a business's VAT number: its format and check digit as each country publishes them; null when it is none. */
export function countryOfVatNumber(number: string): string | null {
  const { isValid, country } = checkVAT(number, countries)
  return isValid && country ? country.isoCode.short : null
}

/**
 * Does the buyer, a business of another country of the union, pay the tax at home?
 * @source EU VAT Directive 2006/112/EC, articles 44 and 196 (from memory)
 */
export function isReverseCharge(number: string | null, home: string | null): boolean {
  const of = number === null ? null : countryOfVatNumber(number)
  return of !== null && home !== null && of !== home && union.has(of) && union.has(home)
}
