import { describe, expect, it } from 'vitest'
import { funnelSettings, movedPath, nextTurn, noFunnelSettings, openness } from './settings.ts'

const at = (text: string): number => Date.parse(text)

describe('the settings of a funnel', () => {
  it('say whether it is open: from its first moment until its last, which is not of it any more', () => {
    const times = { startsAt: '2027-03-01T09:00:00+01:00', endsAt: '2027-03-08T09:00:00+01:00' }
    expect(openness(times, at('2027-03-01T07:59:59Z'))).toBe('before')
    expect(openness(times, at('2027-03-01T08:00:00Z'))).toBe('open')
    expect(openness(times, at('2027-03-08T07:59:59Z'))).toBe('open')
    expect(openness(times, at('2027-03-08T08:00:00Z'))).toBe('after')
    expect(openness(noFunnelSettings, 0)).toBe('open')
    expect(nextTurn(times, at('2027-03-02T00:00:00Z'))).toBe(at('2027-03-08T08:00:00Z'))
    expect(nextTurn(noFunnelSettings, 0)).toBe(Infinity)
  })

  it('move the addresses that begin with its path, and no others', () => {
    expect(movedPath('spring', 'spring', 'autumn')).toBe('autumn')
    expect(movedPath('spring/thanks', 'spring', 'autumn/now')).toBe('autumn/now/thanks')
    expect(movedPath('springtime', 'spring', 'autumn')).toBe('springtime')
    expect(movedPath('letter', 'spring', 'autumn')).toBe('letter')
  })

  it.each([
    [
      'an end before the beginning',
      { startsAt: '2027-03-08T09:00:00Z', endsAt: '2027-03-01T09:00:00Z' },
      /ends before it begins/,
    ],
    ['a currency that is none', { currency: 'euro' }, /three letters/],
    ['a path of the install itself', { path: 'api/x' }, /used by Nurtel itself/],
    ['a script without https', { trackingScripts: ['http://count.test/x.js'] }, /https/],
  ])('refuse %s', (_, given, words) => {
    const read = funnelSettings.safeParse(given)
    expect(read.success).toBe(false)
    expect(read.error?.issues.map(({ message }) => message).join()).toMatch(words)
  })
})
