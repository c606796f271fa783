import { getCountries } from 'libphonenumber-js'
import { describe, expect, it } from 'vitest'
import { countryCodes, countryFrom, countryName, isCountry } from './country.ts'

describe('countries', () => {
  it('are those that have a telephone code, and some islands without one', () => {
    // Reference: libphonenumber's own list of regions (alpha-2 codes); TA and AC are parts of GB with their own.
    const reference = getCountries().filter((code) => isCountry(code))
    expect(getCountries().length - reference.length).toBeLessThanOrEqual(1)
    const codes = countryCodes()
    for (const code of reference) expect(codes).toContain(code)
    expect(codes.length - reference.length).toBeLessThan(20)
  })

  it('have no code that was replaced, is for tests or means several countries', () => {
    for (const code of ['DD', 'SU', 'UK', 'YU', 'EU', 'UN', 'XA', 'ZZ', 'AA', 'ie', 'IRL', ''])
      expect([code, isCountry(code)]).toEqual([code, false])
  })

  it.each([
    ['IE', 'Ireland'],
    ['gb', 'United Kingdom'],
    ['QQ', 'QQ'],
    ['Paperland', 'Paperland'],
  ])('%s is called %s', (code, name) => {
    expect(countryName(code)).toBe(name)
  })

  // Names in other languages as the countries' own: from memory.
  it.each([
    ['ie', 'IE'],
    [' UK ', 'GB'],
    ['Ireland', 'IE'],
    ['Deutschland', 'DE'],
    ['ESPAÑA', 'ES'],
    ['Irlande', 'IE'],
    ['Éire', 'IE'],
    ['U.S.A.', 'US'],
    ['United States', 'US'],
    ['Österreich', 'AT'],
    ['Oesterreichland', null],
    ['Paperland', null],
    ['QQ', null],
    ['', null],
  ])('%j is read as %s', (typed, code) => {
    expect(countryFrom(typed)).toBe(code)
  })

  it('are read back from their own names', () => {
    for (const code of countryCodes()) expect(countryFrom(countryName(code))).toBe(code)
  })
})
