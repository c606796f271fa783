import { z } from 'zod'
import { block, type Block } from './block.ts'
import { partShape } from './kinds/blockKind.ts'
import { referenceId } from './reference.ts'
import { partId } from './richText.ts'

/** More than anybody writes into one document, and as much as an editor draws at once. */
export const mostSections = 100
export const mostBlocks = 500

export const column = z.strictObject({
  id: partId,
  /** Its part of the width, in proportion to the shares beside it. */
  share: z.number().int().min(1).max(6).default(1),
  blocks: z.array(block).max(mostBlocks, `At most ${mostBlocks} parts fit into one document`),
})
export type Column = z.infer<typeof column>

export const sectionLook = z.strictObject({
  background: z.enum(['plain', 'tinted', 'picture']).default('plain'),
  picture: referenceId.nullable().default(null),
  width: z.enum(['page', 'narrow', 'full']).default('page'),
})

export const section = z.strictObject({
  ...partShape,
  look: sectionLook,
  columns: z.array(column).min(1).max(4, 'A section has four columns at most'),
})
export type Section = z.infer<typeof section>

/** Ids that occur more than once. */
const repeatedIds = (sections: readonly Section[]): string[] => {
  const ids = sections.flatMap((each) => [
    each.id,
    ...each.columns.flatMap(({ id, blocks }) => [id, ...blocks.map((one) => one.id)]),
  ])
  return ids.filter((id, i) => ids.indexOf(id) !== i)
}

const count = (sections: readonly Section[]): number =>
  sections.reduce(
    (sum, { columns }) => sum + columns.reduce((some, { blocks }) => some + blocks.length, 0),
    0,
  )

/** How many parts something of that shape would have, before its parts are looked at one by one. */
function isLong(value: unknown): boolean {
  const { sections } = (value ?? {}) as { sections?: unknown }
  if (!Array.isArray(sections)) return false
  let parts = 0
  for (const { columns } of sections as { columns?: unknown }[])
    if (Array.isArray(columns))
      for (const each of columns as { blocks?: unknown }[])
        if (Array.isArray(each.blocks)) parts += each.blocks.length
  return parts > mostBlocks
}

/** What pages, emails, pop-ups and lessons are made of: sections with columns with blocks. */
export const blockDocument = z
  .unknown()
  .refine((value) => !isLong(value), `At most ${mostBlocks} parts fit into one document`)
  .pipe(
    z.strictObject({
      sections: z.array(section).max(mostSections, `At most ${mostSections} sections fit into one document`),
    }),
  )
  .refine(
    ({ sections }) => count(sections) <= mostBlocks,
    `At most ${mostBlocks} parts fit into one document`,
  )
  .refine(({ sections }) => repeatedIds(sections).length === 0, 'Each part needs an id of its own')
export type BlockDocument = z.infer<typeof blockDocument>

/** A new section of empty columns. @param shares of the columns, from left to right */
export function freshSection(
  newId: () => string,
  shares: readonly number[] = [1],
  blocks: Block[][] = [],
): Section {
  return section.parse({
    id: newId(),
    look: {},
    columns: shares.map((share, i) => ({ id: newId(), share, blocks: blocks[i] ?? [] })),
  })
}
