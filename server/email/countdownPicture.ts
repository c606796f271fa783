import sharp from 'sharp'
import { countdownSvg, timeLeft } from '../../core/email/countdownPicture.ts'
import type { Brand } from '../../core/pages/brand.ts'

/** So many drawn pictures are kept: many people open the same email within a minute. */
const mostKept = 200

/** Draws countdowns. @returns PNG */
export function openCountdowns(): (until: number, now: number, brand: Brand) => Promise<Buffer> {
  const kept = new Map<string, Promise<Buffer>>()
  return (until, now, { colours }) => {
    const svg = countdownSvg(timeLeft(until, now), colours)
    const known = kept.get(svg)
    if (known) return known
    const drawn = sharp(Buffer.from(svg)).png({ palette: true }).toBuffer()
    drawn.catch(() => kept.delete(svg))
    kept.set(svg, drawn)
    const oldest = kept.keys().next()
    if (kept.size > mostKept && !oldest.done) kept.delete(oldest.value)
    return drawn
  }
}
