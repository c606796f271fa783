import { describe, expect, it } from 'vitest'
import { countdownSvg, timeLeft } from './countdownPicture.ts'

const hour = 3_600_000
const colours = { text: '#222222', background: '#ffffff' }

describe('the picture of a countdown', () => {
  it('shows the minutes that have begun, and nothing less than none', () => {
    expect(timeLeft(49 * hour + 1, 0)).toEqual({ days: 2, hours: 1, minutes: 1 })
    expect(timeLeft(60_000, 0)).toEqual({ days: 0, hours: 0, minutes: 1 })
    expect(timeLeft(0, 5 * hour)).toEqual({ days: 0, hours: 0, minutes: 0 })
    expect(timeLeft(Number.MAX_SAFE_INTEGER, 0)).toEqual({ days: 999, hours: 23, minutes: 59 })
  })

  it('has a stroke for each that a digit takes', () => {
    // Seven strokes draw an eight, two a one, six a nought (common practice of such displays).
    const strokesOf = (days: number, hours: number, minutes: number): number =>
      countdownSvg({ days, hours, minutes }, colours).match(/M[\d.]+ [\d.]+L/g)!.length
    expect(strokesOf(88, 0, 0)).toBe(14 + 24)
    expect(strokesOf(11, 11, 11)).toBe(12)
    expect(strokesOf(100, 0, 0)).toBe(2 + 12 + 24)
  })
})
