import { describe, expect, it } from 'vitest'
import { needsUtf8, parseAddress } from './address.ts'

describe('an email address', () => {
  it('is one person in any letter case, shown as typed', () => {
    expect(parseAddress(' Ada.Finch@Example.test ')).toEqual({
      shown: 'Ada.Finch@Example.test',
      key: 'ada.finch@example.test',
    })
  })

  // Accepted and refused by the WHATWG HTML standard's "Email state"; a dotless host is our own refusal.
  it.each(["o'hara+tag@example.test", 'a!#$%&*/=?^_`{|}~-@x.test', 'x@1.test', `${'l'.repeat(64)}@a.test`])(
    'takes %s',
    (typed) => expect(parseAddress(typed)?.shown).toBe(typed),
  )

  it.each([
    '',
    'ada',
    '@example.test',
    'ada@',
    'ada finch@example.test',
    'ada@exa mple.test',
    'ada@example..test',
    'ada@-example.test',
    'ada@localhost',
    'ada@example.test/path',
    'ada@b@example.test',
    `${'x'.repeat(250)}@a.test`,
    'ada@example.test\nBcc: all@example.test',
  ])('refuses %j', (typed) => expect(parseAddress(typed)).toBeNull())

  it('may have letters of any script, in one spelling (examples of RFC 6532 and RFC 6531 in other words)', () => {
    expect(parseAddress('Müller@bücher.test')?.key).toBe('müller@xn--bcher-kva.test')
    expect(parseAddress('mu\u0308ller@a.test')?.key).toBe(parseAddress('m\u00fcller@a.test')?.key)
    expect(parseAddress('用户@例子.test')?.key).toBe('用户@xn--fsqu00a.test')
    expect([needsUtf8('müller@a.test'), needsUtf8('mueller@bücher.test')]).toEqual([true, false])
    for (const wrong of ['mül ler@a.test', 'a\u200bb@a.test', 'ü@localhost'])
      expect(parseAddress(wrong)).toBeNull()
  })

  it('keeps a domain with letters outside ASCII and keys it by its ASCII form', () => {
    // RFC 3492 (Punycode): bücher is xn--bcher-kva.
    expect(parseAddress('Ada@bücher.test')).toEqual({
      shown: 'Ada@bücher.test',
      key: 'ada@xn--bcher-kva.test',
    })
  })
})
