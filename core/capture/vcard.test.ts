import ICAL from 'ical.js'
import { expect, it } from 'vitest'
import { vcard } from './vcard.ts'

const card = {
  name: 'Mara; Ellery, bookbinder \\ teacher',
  address: 'mara@quillfeather.example',
  organisation:
    'Quillfeather Bindery in a street with a very long name, where letters ‹é› take two octets each',
}

it('folds lines at 75 octets and ends them as RFC 6350 §3.2 asks', () => {
  const file = vcard(card)
  expect(file.endsWith('END:VCARD\r\n')).toBe(true)
  const octets = file.split('\r\n').map((line) => new TextEncoder().encode(line).length)
  expect(Math.max(...octets)).toBeLessThanOrEqual(75)
})

it('is read back unchanged by an independent reader (ical.js)', () => {
  const read = new ICAL.Component(ICAL.parse(vcard(card)) as unknown[])
  expect(read.getFirstPropertyValue('fn')).toBe(card.name)
  expect(read.getFirstPropertyValue('org')).toBe(card.organisation)
  expect(read.getFirstPropertyValue('email')).toBe(card.address)
})
