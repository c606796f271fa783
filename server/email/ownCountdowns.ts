import { GifWriter } from 'omggif'
import sharp from 'sharp'
import {
  countdownFrames,
  frameHeight,
  frameWidth,
  overSvg,
  shades,
  spriteSvg,
  type Frame,
  type Sprite,
} from '../../core/email/countdownFrames.ts'
import type { Brand } from '../../core/pages/brand.ts'

/** So many drawn pictures are kept: a mail program asks for the same one more than once. */
const mostKept = 200

async function rasterise(svg: string): Promise<Sprite> {
  const { data, info } = await sharp(Buffer.from(svg)).greyscale().raw().toBuffer({ resolveWithObject: true })
  const pixels = Uint8Array.from(data, (value) => Math.round((value * (shades - 1)) / 255))
  return { width: info.width, height: info.height, pixels }
}

/** The colours between two, as a GIF has them. @param from, to as `#rrggbb` */
function paletteOf(from: string, to: string): number[] {
  const parts = (colour: string): number[] =>
    [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16))
  const [a, b] = [parts(from), parts(to)]
  return Array.from({ length: shades }, (_, shade) =>
    a.reduce((whole, value, i) => {
      const mixed = Math.round(value + (((b[i] ?? 0) - value) * shade) / (shades - 1))
      return whole * 256 + mixed
    }, 0),
  )
}

/** @returns GIF89a: each frame is shown for a second, the last one stays */
function encode(frames: readonly Frame[], { colours }: Brand): Buffer {
  const room = frames.reduce((sum, { width, height }) => sum + width * height, 20_000)
  const bytes = Buffer.alloc(room)
  const writer = new GifWriter(bytes, frameWidth, frameHeight, {
    palette: paletteOf(colours.background, colours.text),
  })
  for (const { x, y, width, height, pixels } of frames)
    writer.addFrame(x, y, width, height, pixels as unknown as number[], { delay: 100, disposal: 1 })
  return bytes.subarray(0, writer.end())
}

/**
 * Draws what is left of personal deadlines, as it is when an email is opened: seconds run for a minute; one that has not
 * begun stands still, and once it is over the picture says so.
 */
export function openOwnCountdowns(): (
  left: { left: number; runs: boolean },
  brand: Brand,
) => Promise<Buffer> {
  let sprites: Promise<Sprite[]> | null = null
  let over: Promise<Sprite> | null = null
  const kept = new Map<string, Promise<Buffer>>()

  async function drawn(seconds: number, runs: boolean, brand: Brand): Promise<Buffer> {
    if (seconds > 0) {
      sprites ??= Promise.all(Array.from({ length: 10 }, (_, n) => rasterise(spriteSvg(n))))
      const frames = countdownFrames(seconds, await sprites)
      return encode(runs ? frames : frames.slice(0, 1), brand)
    }
    over ??= rasterise(overSvg())
    return encode([{ x: 0, y: 0, ...(await over) }], brand)
  }

  return ({ left, runs }, brand) => {
    const seconds = Math.max(0, Math.ceil(left / 1_000))
    const key = `${seconds} ${runs} ${brand.colours.text} ${brand.colours.background}`
    const known = kept.get(key)
    if (known) return known
    const made = drawn(seconds, runs, brand)
    made.catch(() => kept.delete(key))
    kept.set(key, made)
    const oldest = kept.keys().next()
    if (kept.size > mostKept && !oldest.done) kept.delete(oldest.value)
    return made
  }
}
