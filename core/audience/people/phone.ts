import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js'

/** A phone number in E.164, read with the country's own way of writing; null when it is none. */
export function readPhone(typed: string, country: string): string | null {
  const number = parsePhoneNumberFromString(typed, (country || undefined) as CountryCode | undefined)
  return number?.isPossible() ? number.number : null
}
