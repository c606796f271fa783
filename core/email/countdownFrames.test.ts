import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  countdownFrames,
  digitsOf,
  frameHeight,
  frameWidth,
  overSvg,
  shades,
  spriteSvg,
  type Frame,
  type Sprite,
} from './countdownFrames.ts'

/** A made-up digit of the right size, told from others by its shade. */
const width = Number(/width="(\d+)"/.exec(spriteSvg(0))?.[1])
const height = Number(/height="(\d+)"/.exec(spriteSvg(0))?.[1])
const sprites = Array.from({ length: 10 }, (_, n): Sprite => {
  return { width, height, pixels: new Uint8Array(width * height).fill(n + 1) }
})

/** What a screen shows after so many frames: each is drawn over what is there. */
function shownAfter(frames: readonly Frame[], count: number): Uint8Array {
  const screen = new Uint8Array(frameWidth * frameHeight)
  for (const { x, y, width: w, pixels } of frames.slice(0, count))
    pixels.forEach((value, at) => {
      screen[(y + Math.floor(at / w)) * frameWidth + x + (at % w)] = value
    })
  return screen
}

describe('the frames of a countdown', () => {
  it('tell days, hours, minutes and seconds', () => {
    expect(digitsOf(0)).toEqual(['00', '00', '00', '00'])
    expect(digitsOf(86_400 + 3_600 + 61)).toEqual(['01', '01', '01', '01'])
    expect(digitsOf(100 * 86_400 - 1)).toEqual(['99', '23', '59', '59'])
    expect(digitsOf(5_000 * 86_400)[0]).toBe('999')
  })

  it('show each second what the whole picture of that second shows, though only digits that differ are drawn', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 86_400 * 120 }), fc.nat(59), (seconds, later) => {
        const frames = countdownFrames(seconds, sprites)
        const at = Math.min(later, frames.length - 1)
        // Beyond 99 days all digits stand elsewhere: another picture, which no animation reaches.
        fc.pre(digitsOf(seconds)[0]?.length === digitsOf(seconds - at)[0]?.length)
        const whole = seconds - at === 0 ? null : countdownFrames(seconds - at, sprites)
        if (whole) expect(shownAfter(frames, at + 1)).toEqual(shownAfter(whole, 1))
      }),
      { numRuns: 60 },
    )
  })

  it('are a minute at most, end with nothing left, and stay within the picture and its shades', () => {
    expect(countdownFrames(500, sprites)).toHaveLength(60)
    expect(countdownFrames(5, sprites)).toHaveLength(6)
    for (const frame of countdownFrames(86_400 * 300, sprites)) {
      expect(frame.x + frame.width).toBeLessThanOrEqual(frameWidth)
      expect(frame.y + frame.height).toBeLessThanOrEqual(frameHeight)
      expect(Math.max(...frame.pixels)).toBeLessThan(shades)
    }
  })

  it('are drawn from strokes, also the word at the end', () => {
    expect(overSvg().match(/<path/g)).toHaveLength(4)
  })
})
