import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'
import { target } from '../blocks/target.ts'

/** The typefaces that ship with the application, by the name of their family. */
export const typefaces = {
  fraunces: { family: 'Fraunces', fallback: 'Georgia, serif' },
  lora: { family: 'Lora', fallback: 'Georgia, serif' },
  literata: { family: 'Literata', fallback: 'Georgia, serif' },
  bitter: { family: 'Bitter', fallback: 'Georgia, serif' },
  'work-sans': { family: 'Work Sans', fallback: 'system-ui, sans-serif' },
  'nunito-sans': { family: 'Nunito Sans', fallback: 'system-ui, sans-serif' },
  figtree: { family: 'Figtree', fallback: 'system-ui, sans-serif' },
} as const
export type Typeface = keyof typeof typefaces
export const typeface = z.enum(Object.keys(typefaces) as [Typeface, ...Typeface[]])

const colour = z
  .string()
  .regex(/^#[0-9a-f]{6}$/i, 'Use a colour such as #7A2048')
  .transform((hex) => hex.toUpperCase())

export const brandColours = z.strictObject({
  background: colour,
  tint: colour,
  text: colour,
  accent: colour,
  onAccent: colour,
})
export type BrandColours = z.infer<typeof brandColours>

const namedLink = z.strictObject({ label: z.string().min(1, 'Give the link a name').max(60), target })

/** How the business looks to its public: pages and emails wear it. */
export const brand = z.strictObject({
  logo: referenceId.nullable(),
  colours: brandColours,
  headings: typeface,
  body: typeface,
  /** Radius of buttons, fields and pictures (px). */
  corner: z.literal([0, 4, 8, 16, 28]),
  /** Width of the text on a wide screen (px). */
  width: z.literal([840, 960, 1080, 1200]),
  header: z.strictObject({ links: z.array(namedLink).max(6) }),
  footer: z.strictObject({ words: z.string().max(500), links: z.array(namedLink).max(8) }),
})
export type Brand = z.infer<typeof brand>

/** What a business wears before it has chosen: black on white. */
export const plainBrand: Brand = {
  logo: null,
  colours: {
    background: '#FFFFFF',
    tint: '#F1F1EF',
    text: '#222222',
    accent: '#2A4B7C',
    onAccent: '#FFFFFF',
  },
  headings: 'work-sans',
  body: 'work-sans',
  corner: 8,
  width: 1080,
  header: { links: [] },
  footer: { words: '', links: [] },
}

const channel = (hex: string, at: number): number => {
  const value = Number.parseInt(hex.slice(at, at + 2), 16) / 255
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4
}

/** Relative luminance of a colour, 0 to 1. Source: WCAG 2.2, "relative luminance". */
const luminance = (hex: string): number =>
  0.2126 * channel(hex, 1) + 0.7152 * channel(hex, 3) + 0.0722 * channel(hex, 5)

/** Contrast of two colours, 1 to 21. Source: WCAG 2.2, "contrast ratio". */
export function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number]
  return (light + 0.05) / (dark + 0.05)
}

/** Least contrast of text (WCAG 2.2, success criterion 1.4.3). */
export const leastContrast = 4.5

export interface ContrastLook {
  /** What stands on what. */
  words: string
  ratio: number
  enough: boolean
}

/** The pairs of colours that are read, and whether they can be. */
export function contrastsOf({ background, tint, text, accent, onAccent }: BrandColours): ContrastLook[] {
  const look = (words: string, a: string, b: string): ContrastLook => {
    const ratio = contrast(a, b)
    return { words, ratio, enough: ratio >= leastContrast }
  }
  return [
    look('Text on background', text, background),
    look('Text on tint', text, tint),
    look('Text on buttons', onAccent, accent),
    look('Links on background', accent, background),
    look('Links on tint', accent, tint),
  ]
}
