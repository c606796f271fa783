import type { Block } from './block.ts'
import { mostBlocks, mostSections, type BlockDocument, type Column, type Section } from './document.ts'
import { renewLinkIds } from './richText.ts'

/** What is put in, taken out, moved and copied: a whole section or a block. */
export type Part = Section | Block

/** A place in a document: before the nth section (`column` is null), or before the nth block of a column. */
export interface Place {
  column: string | null
  index: number
}

/** One edit. Every edit of a document is one of these, or several in a row. */
export type Operation =
  | { do: 'insert'; part: Part; at: Place }
  | { do: 'remove'; id: string }
  | { do: 'move'; id: string; to: Place }
  | { do: 'change'; part: Part }
  | { do: 'several'; operations: Operation[] }

/** The new document, and what undoes the edit. */
export interface Edited {
  document: BlockDocument
  undo: Operation
}

/** An edit that cannot be made; its message is for the person who tried. */
export class EditRefused extends Error {}

export const isSection = (part: Part): part is Section => 'columns' in part

const mapColumns = (document: BlockDocument, map: (column: Column) => Column): BlockDocument => ({
  ...document,
  sections: document.sections.map((section) => {
    const columns = section.columns.map(map)
    return columns.some((column, i) => column !== section.columns[i]) ? { ...section, columns } : section
  }),
})

/** A part and where it stands. */
export function findPart(document: BlockDocument, id: string): { part: Part; at: Place } | undefined {
  for (const [index, section] of document.sections.entries()) {
    if (section.id === id) return { part: section, at: { column: null, index } }
    for (const column of section.columns) {
      const at = column.blocks.findIndex((block) => block.id === id)
      const block = column.blocks[at]
      if (block) return { part: block, at: { column: column.id, index: at } }
    }
  }
  return undefined
}

function existing(document: BlockDocument, id: string): { part: Part; at: Place } {
  const found = findPart(document, id)
  if (!found) throw new EditRefused('This part is no longer there')
  return found
}

const withAt = <T>(list: readonly T[], index: number, item: T): T[] => {
  if (index < 0 || index > list.length) throw new EditRefused('There is no such place')
  return [...list.slice(0, index), item, ...list.slice(index)]
}

const countBlocks = ({ sections }: { sections: readonly Section[] }): number =>
  sections.flatMap(({ columns }) => columns).reduce((sum, { blocks }) => sum + blocks.length, 0)

function insert(document: BlockDocument, part: Part, at: Place): BlockDocument {
  if (isSection(part) !== (at.column === null))
    throw new EditRefused('A section stands between sections, a block in a column')
  if (isSection(part)) {
    if (document.sections.length >= mostSections)
      throw new EditRefused(`At most ${mostSections} sections fit into one document`)
    if (countBlocks(document) + countBlocks({ sections: [part] }) > mostBlocks)
      throw new EditRefused(`At most ${mostBlocks} parts fit into one document`)
    return { ...document, sections: withAt(document.sections, at.index, part) }
  }
  if (countBlocks(document) >= mostBlocks)
    throw new EditRefused(`At most ${mostBlocks} parts fit into one document`)
  const changed = mapColumns(document, (column) =>
    column.id === at.column ? { ...column, blocks: withAt(column.blocks, at.index, part) } : column,
  )
  if (!findPart(changed, part.id)) throw new EditRefused('There is no such place')
  return changed
}

const remove = (document: BlockDocument, id: string): BlockDocument => {
  const { part } = existing(document, id)
  return isSection(part)
    ? { ...document, sections: document.sections.filter((section) => section.id !== id) }
    : mapColumns(document, (column) =>
        column.blocks.some((block) => block.id === id)
          ? { ...column, blocks: column.blocks.filter((block) => block.id !== id) }
          : column,
      )
}

/** Puts a part in the place of the one with its id. */
function change(document: BlockDocument, part: Part): BlockDocument {
  const before = existing(document, part.id).part
  if (
    isSection(before) !== isSection(part) ||
    (!isSection(before) && !isSection(part) && before.kind !== part.kind)
  )
    throw new EditRefused('A part stays what it is')
  if (isSection(part))
    return { ...document, sections: document.sections.map((each) => (each.id === part.id ? part : each)) }
  return mapColumns(document, (column) =>
    column.blocks.some(({ id }) => id === part.id)
      ? { ...column, blocks: column.blocks.map((each) => (each.id === part.id ? part : each)) }
      : column,
  )
}

/**
 * Makes an edit on a document, which itself stays as it is.
 * @throws EditRefused when it cannot be made there; nothing has changed then
 */
export function edit(document: BlockDocument, operation: Operation): Edited {
  switch (operation.do) {
    case 'insert':
      return {
        document: insert(document, operation.part, operation.at),
        undo: { do: 'remove', id: operation.part.id },
      }
    case 'remove': {
      const { part, at } = existing(document, operation.id)
      return { document: remove(document, operation.id), undo: { do: 'insert', part, at } }
    }
    case 'move': {
      // The place is meant as it is once the part has been taken out.
      const { part, at } = existing(document, operation.id)
      return {
        document: insert(remove(document, operation.id), part, operation.to),
        undo: { do: 'move', id: operation.id, to: at },
      }
    }
    case 'change': {
      const { part } = existing(document, operation.part.id)
      return { document: change(document, operation.part), undo: { do: 'change', part } }
    }
    case 'several': {
      let current = document
      const undone: Operation[] = []
      for (const each of operation.operations) {
        const { document: next, undo } = edit(current, each)
        current = next
        undone.unshift(undo)
      }
      return { document: current, undo: { do: 'several', operations: undone } }
    }
  }
}

/** The same block with ids of its own. */
function copyBlock(block: Block, newId: () => string): Block {
  const copy = { ...block, id: newId() }
  return copy.kind === 'text' ? { ...copy, content: renewLinkIds(copy.content, newId) } : copy
}

/** The same part with new ids all through, to be put in somewhere. */
export function copyPart<P extends Part>(part: P, newId: () => string): P
export function copyPart(part: Part, newId: () => string): Part {
  if (!isSection(part)) return copyBlock(part, newId)
  return {
    ...part,
    id: newId(),
    columns: part.columns.map((column) => ({
      ...column,
      id: newId(),
      blocks: column.blocks.map((block) => copyBlock(block, newId)),
    })),
  }
}

/** A whole document with new ids, as the beginning of another. */
export const copyDocument = (document: BlockDocument, newId: () => string): BlockDocument => ({
  ...document,
  sections: document.sections.map((section) => copyPart(section, newId)),
})

/**
 * The section with other columns. What stood in columns that are no more moves to the last one.
 * @param shares of the columns, from left to right
 */
export function withColumns(section: Section, shares: readonly number[], newId: () => string): Section {
  const columns = shares.map((share, i): Column => {
    const before = section.columns[i]
    return before ? { ...before, share } : { id: newId(), share, blocks: [] }
  })
  const left = section.columns.slice(shares.length).flatMap(({ blocks }) => blocks)
  const last = columns.length - 1
  return {
    ...section,
    columns: columns.map((column, i) =>
      i === last && left.length ? { ...column, blocks: [...column.blocks, ...left] } : column,
    ),
  }
}

/** The place one step up or down for a part: past its neighbour, or into the column or section beside. */
export function neighbouringPlace(document: BlockDocument, id: string, step: -1 | 1): Place | null {
  const { part, at } = existing(document, id)
  if (isSection(part)) {
    const index = at.index + step
    return index < 0 || index >= document.sections.length ? null : { column: null, index }
  }
  const columns = document.sections.flatMap((section) => section.columns)
  const where = columns.findIndex((column) => column.id === at.column)
  const own = columns[where]?.blocks.length ?? 0
  const index = at.index + step
  if (index >= 0 && index < own) return { column: at.column, index }
  const beside = columns[where + step]
  return beside ? { column: beside.id, index: step === 1 ? 0 : beside.blocks.length } : null
}
