import { disposableEmailBlocklist } from 'disposable-email-domains-js'
import mailcheck from 'mailcheck'
import { describe, expect, it } from 'vitest'
import { isThrowaway, meantAddress } from './addressDoubts.ts'
import { confirming, type ConfirmWhen } from './form.ts'
import { countryOfLanguages, mustConfirm, type SendingFacts } from './mustConfirm.ts'

const [thrownAway] = disposableEmailBlocklist()

describe('a typing slip', () => {
  it.each([
    ['orla@postbxo.test', 'orla@postbox.test'],
    ['orla@postbx.test', 'orla@postbox.test'],
    ['orla@postbox.test', null],
    ['orla@something-else.test', null],
    ['orla@bindery.studio', null],
  ])('in %s means %s', (typed, meant) => {
    expect(meantAddress(typed, ['postbox.test', 'makers.example'])).toBe(meant)
  })

  it('is found as the library itself finds it, in domains that are known everywhere', () => {
    // Reference: the library `mailcheck` with its own lists, asked for whole domains only.
    for (const domain of mailcheck.defaultDomains.filter((each) => each.length > 7)) {
      const slipped = `a@${domain.slice(1, 2)}${domain.slice(0, 1)}${domain.slice(2)}`
      const reference = mailcheck.run({
        email: slipped,
        domains: mailcheck.defaultDomains,
        secondLevelDomains: [],
        topLevelDomains: [],
      })
      expect(meantAddress(slipped, []), slipped).toBe(reference?.full ?? null)
    }
  })
})

it('knows mailboxes that are thrown away, by the list of `disposable-email-domains-js`', () => {
  expect([isThrowaway(`a@${thrownAway}`), isThrowaway('a@postbox.test')]).toEqual([true, false])
})

describe('the country of a browser', () => {
  it.each([
    ['de-AT,de;q=0.9,en;q=0.8', 'AT'],
    ['en,de-DE;q=0.5', 'DE'],
    ['zh-Hant-TW', 'TW'],
    ['en', null],
    ['', null],
    ['*', null],
  ])('of %j is %s', (header, country) => expect(countryOfLanguages(header)).toBe(country))
})

describe('an address', () => {
  const plain: SendingFacts = { address: 'orla@postbox.test', country: 'IE', site: null, fromSource: 0 }
  const asks = (when: ConfirmWhen, facts: Partial<SendingFacts> = {}): boolean =>
    mustConfirm(
      { confirm: confirming.parse({ when, countries: ['DE', 'AT'] }), domains: ['postbox.test'] },
      { ...plain, ...facts },
    )

  it('is confirmed always or never, as the form says', () => {
    expect([asks('always'), asks('never', { address: `a@${thrownAway}` })]).toEqual([true, false])
  })

  it('is confirmed in some countries, and where the country is unknown', () => {
    expect([
      asks('byCountry'),
      asks('byCountry', { country: 'AT' }),
      asks('byCountry', { country: null }),
    ]).toEqual([false, true, true])
  })

  it('is confirmed when it looks doubtful, comes from elsewhere, or with many others', () => {
    const doubtful: Partial<SendingFacts>[] = [
      { address: `a@${thrownAway}` },
      { address: 'a@postbxo.test' },
      { site: 'https://elsewhere.example' },
      { fromSource: 20 },
    ]
    expect(asks('whenUnsure')).toBe(false)
    for (const facts of doubtful) expect(asks('whenUnsure', facts), JSON.stringify(facts)).toBe(true)
  })
})
