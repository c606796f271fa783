import { digitHeight, digitPath, strokeWidth } from './countdownPicture.ts'
import { countdownHeight, countdownWidth } from './emailCards.ts'

/** A picture twice its shown size, so that it is sharp on any screen. */
export const scale = 2
export const frameWidth = countdownWidth * scale
export const frameHeight = countdownHeight * scale

/** So many shades lie between the background and the digits; the first is the background, the last the digits. */
export const shades = 16

/** So many seconds an animation shows, one frame each: mail programs keep showing the last. */
const longest = 60

const digitWidth = 20
const gap = 9
const between = 24
/** What a stroke reaches beyond its digit. */
const margin = 4

/** A drawn sign: shades row by row. */
export interface Sprite {
  width: number
  height: number
  pixels: Uint8Array
}

/** A part of the picture that is drawn anew. */
export interface Frame extends Sprite {
  x: number
  y: number
}

const cellWidth = (digitWidth + 2 * margin) * scale
const cellHeight = (digitHeight + 2 * margin) * scale

/** A digit by itself. @returns SVG, white on black, to be rasterised once */
export const spriteSvg = (n: number): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${cellWidth}" height="${cellHeight}" viewBox="0 0 ${cellWidth / scale} ${cellHeight / scale}"><rect width="100%" height="100%" fill="#000"/><path d="${digitPath(n, margin, margin, digitWidth)}" fill="none" stroke="#fff" stroke-width="${strokeWidth - 1}" stroke-linecap="round"/></svg>`

/** “OVER”, in strokes of its own: a server may have no typeface. @returns SVG, white on black, of the whole picture */
export function overSvg(): string {
  const [w, h] = [30, digitHeight]
  const letters = [
    `M0 0H${w}V${h}H0Z`,
    `M0 0L${w / 2} ${h}L${w} 0`,
    `M${w} 0H0V${h}H${w}M0 ${h / 2}H${w * 0.8}`,
    `M0 ${h}V0H${w}V${h / 2}H0M${w * 0.4} ${h / 2}L${w} ${h}`,
  ]
  const step = w + 16
  const left = (countdownWidth - (letters.length * step - 16)) / 2
  const top = (countdownHeight - h) / 2
  const drawn = letters.map((d, i) => `<path transform="translate(${left + i * step} ${top})" d="${d}"/>`)
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${frameWidth}" height="${frameHeight}" viewBox="0 0 ${countdownWidth} ${countdownHeight}"><rect width="100%" height="100%" fill="#000"/><g fill="none" stroke="#fff" stroke-width="${strokeWidth}" stroke-linejoin="round" stroke-linecap="round">${drawn.join('')}</g></svg>`
}

/** The digits of what is left: days, hours, minutes and seconds, two each; three of the days beyond 99. */
export function digitsOf(seconds: number): string[] {
  const days = Math.min(999, Math.floor(seconds / 86_400))
  return [
    String(days).padStart(2, '0'),
    ...[Math.floor(seconds / 3_600) % 24, Math.floor(seconds / 60) % 60, seconds % 60].map((each) =>
      String(each).padStart(2, '0'),
    ),
  ]
}

/** Where each digit stands, and the dots between the groups (in pixels of the picture). */
function layOut(groups: readonly string[]): { digits: number[]; dots: number[] } {
  const widthOf = (group: string): number => group.length * digitWidth + (group.length - 1) * gap
  const whole = groups.reduce((sum, group) => sum + widthOf(group), 0) + between * (groups.length - 1)
  let x = (countdownWidth - whole) / 2
  const digits: number[] = []
  const dots: number[] = []
  for (const [i, group] of groups.entries()) {
    for (let n = 0; n < group.length; n++)
      digits.push(Math.round((x + n * (digitWidth + gap) - margin) * scale))
    x += widthOf(group) + between
    if (i < groups.length - 1) dots.push(Math.round((x - between / 2) * scale))
  }
  return { digits, dots }
}

/** The side of a dot, in pixels of the picture. */
const dot = 6

const top = Math.round(((countdownHeight - digitHeight) / 2 - margin) * scale)

/**
 * The frames of a countdown, one a second: the first is the whole picture, each other one only the digits that differ.
 * @param seconds left as it is opened, at least one
 * @param sprites the ten digits
 */
export function countdownFrames(seconds: number, sprites: readonly Sprite[]): Frame[] {
  const { digits: places, dots } = layOut(digitsOf(seconds))
  const draw = (frame: Frame, digits: string, from: number, to: number): void => {
    for (let n = from; n <= to; n++) {
      const sprite = sprites[Number(digits[n])]
      const place = places[n]
      if (!sprite || place === undefined) continue
      for (let row = 0; row < sprite.height; row++)
        frame.pixels.set(
          sprite.pixels.subarray(row * sprite.width, (row + 1) * sprite.width),
          (top + row - frame.y) * frame.width + place - frame.x,
        )
    }
  }
  const blank = (x: number, y: number, width: number, height: number): Frame => ({
    x,
    y,
    width,
    height,
    pixels: new Uint8Array(width * height),
  })
  const drawDots = (frame: Frame): void => {
    for (const at of dots.filter((x) => x > frame.x))
      for (const share of [0.32, 0.68]) {
        const y = top + Math.round((margin + digitHeight * share) * scale) - frame.y
        for (let row = y - dot / 2; row < y + dot / 2; row++) {
          const middle = row * frame.width + at - frame.x
          frame.pixels.fill(shades - 1, middle - dot / 2, middle + dot / 2)
        }
      }
  }
  return Array.from({ length: Math.min(longest, seconds + 1) }, (_, i) => {
    const digits = digitsOf(seconds - i).join('')
    const last = digits.length - 1
    if (i === 0) {
      const whole = blank(0, 0, frameWidth, frameHeight)
      drawDots(whole)
      draw(whole, digits, 0, last)
      return whole
    }
    const before = digitsOf(seconds - i + 1).join('')
    const first = Array.from(digits, (each, n) => each !== before[n]).indexOf(true)
    const x = places[first] ?? 0
    const frame = blank(x, top, (places[last] ?? 0) + cellWidth - x, cellHeight)
    drawDots(frame)
    draw(frame, digits, first, last)
    return frame
  })
}
