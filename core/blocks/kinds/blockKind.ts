import { z } from 'zod'
import { condition } from '../../audience/segments/condition.ts'
import type { Reference } from '../reference.ts'
import { partId } from '../richText.ts'
import type { Target } from '../target.ts'

/** Where a document is read. */
export type Medium = 'page' | 'email'

/** Shown to some people only, and what others see in its place. */
export const shownTo = z.strictObject({ people: condition, instead: z.string().max(2_000) })
export type ShownTo = z.infer<typeof shownTo>

/** What every section and block has. */
export const partShape = {
  id: partId,
  hiddenOnPhones: z.boolean().default(false),
  shownTo: shownTo.nullable().default(null),
}

/** What every block has besides. */
const blockShape = {
  ...partShape,
  /** What a good one says: shown in grey to the marketer as long as nothing is written. */
  guidance: z.string().max(300).default(''),
}

/** A line of a page; it may hold merge fields. */
export const line = z.string().max(300)
/** A few sentences. */
export const sentences = z.string().max(2_000)
export const alignment = z.enum(['start', 'centre'])

/** A place that a block leads to. */
export interface BlockLink {
  /** Tells the links of one block apart: the id of a mark, or the number of an entry. */
  part: string
  label: string
  target: Target
}

/** What the rest must know of a kind of block, of blocks of this shape. */
export interface Traits<Block> {
  /** In words, as the insert line lists it. */
  name: string
  /** Other words that one may look for it by. */
  alsoFoundBy: string
  media: readonly Medium[]
  /** What it says in short: its line in the outline. */
  describe: (block: Block) => string
  /** Every text in it, for search, checks and text parts. */
  text: (block: Block) => string[]
  links: (block: Block) => BlockLink[]
  references: (block: Block) => Reference[]
}

/** The parts of the traits that a kind need not give. */
type Spared = 'links' | 'references' | 'alsoFoundBy' | 'media'

/**
 * A kind of block: its shape with limits, what a new one holds, and its traits.
 * @param shape what blocks of this kind have besides what all have
 * @param fresh what a new one holds
 */
export function blockKind<const K extends string, S extends z.ZodRawShape>(
  kind: K,
  shape: S,
  fresh: () => z.input<z.ZodObject<S>>,
  traits: Omit<Traits<z.output<z.ZodObject<S>>>, Spared> &
    Partial<Pick<Traits<z.output<z.ZodObject<S>>>, Spared>>,
) {
  return {
    shape: z.strictObject({ ...blockShape, kind: z.literal(kind), ...shape }),
    fresh,
    links: () => [],
    references: () => [],
    alsoFoundBy: '',
    media: ['page'] as const,
    ...traits,
  }
}
