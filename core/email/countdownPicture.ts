import { countdownHeight, countdownWidth } from './emailCards.ts'

/** What is left until a moment. */
export interface TimeLeft {
  days: number
  hours: number
  minutes: number
}

const minute = 60_000

/** What is left, in whole minutes that have begun; nothing once it is over, 999 days at most. */
export function timeLeft(until: number, now: number): TimeLeft {
  const minutes = Math.min(Math.max(0, Math.ceil((until - now) / minute)), 999 * 24 * 60 + 23 * 60 + 59)
  return { days: Math.floor(minutes / 1440), hours: Math.floor(minutes / 60) % 24, minutes: minutes % 60 }
}

/** The strokes of each digit: top, upper right, lower right, bottom, lower left, upper left, middle. */
const strokes = [
  '1111110',
  '0110000',
  '1101101',
  '1111001',
  '0110011',
  '1011011',
  '1011111',
  '1110000',
  '1111111',
  '1111011',
]

const digitWidth = 26
export const digitHeight = 48
export const strokeWidth = 5

/** A digit drawn as strokes: no typeface is needed, which a server may not have. */
export function digitPath(n: number, x: number, y: number, width = digitWidth): string {
  const middle = digitHeight / 2
  const lines = [
    [0, 0, width, 0],
    [width, 0, width, middle],
    [width, middle, width, digitHeight],
    [0, digitHeight, width, digitHeight],
    [0, middle, 0, digitHeight],
    [0, 0, 0, middle],
    [0, middle, width, middle],
  ] as const
  return lines
    .filter((_, i) => strokes[n]?.[i] === '1')
    .map(([a, b, c, d]) => `M${x + a} ${y + b}L${x + c} ${y + d}`)
    .join('')
}

/**
 * The picture of a countdown at twice its size, so that it is sharp on any screen.
 * @param colours of the brand
 * @returns SVG
 */
export function countdownSvg(
  left: TimeLeft,
  { text, background }: { text: string; background: string },
): string {
  const groups = [
    String(left.days).padStart(2, '0'),
    String(left.hours).padStart(2, '0'),
    String(left.minutes).padStart(2, '0'),
  ]
  const gap = 12
  const between = 38
  const widthOf = (group: string): number => group.length * digitWidth + (group.length - 1) * gap
  const whole = groups.reduce((sum, group) => sum + widthOf(group), 0) + between * 2
  const y = (countdownHeight - digitHeight) / 2
  let x = (countdownWidth - whole) / 2
  let path = ''
  let dots = ''
  groups.forEach((group, i) => {
    for (const each of group) {
      path += digitPath(Number(each), x, y)
      x += digitWidth + gap
    }
    x += between - gap
    if (i < groups.length - 1)
      for (const at of [0.32, 0.68])
        dots += `<circle cx="${x - between / 2}" cy="${y + digitHeight * at}" r="3" fill="${text}"/>`
  })
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${countdownWidth * 2}" height="${countdownHeight * 2}" viewBox="0 0 ${countdownWidth} ${countdownHeight}"><rect width="100%" height="100%" fill="${background}"/><path d="${path}" fill="none" stroke="${text}" stroke-width="${strokeWidth}" stroke-linecap="round"/>${dots}</svg>`
}
