import { referencesOf as referencesOfLeaf } from '../audience/segments/references.ts'
import { leavesOf, type Condition } from '../audience/segments/condition.ts'
import { traitsOf, type Block, type BlockKind } from './block.ts'
import type { BlockDocument, Column, Section } from './document.ts'
import type { BlockLink, ShownTo, Traits } from './kinds/blockKind.ts'
import { fieldKey, fieldsIn, writtenField, type MergeField } from './mergeText.ts'
import { referenceOf, type Reference } from './reference.ts'

/** Where a block stands. */
export interface Standing {
  block: Block
  column: Column
  section: Section
}

/** Every block in reading order, with where it stands. */
export function* walk({ sections }: BlockDocument): Generator<Standing> {
  for (const section of sections)
    for (const column of section.columns) for (const block of column.blocks) yield { block, column, section }
}

/** The traits of a block's kind, for blocks of whatever kind it is. */
const of = (block: Block): Traits<Block> => traitsOf<BlockKind>(block.kind)

/** What a block says in short. */
export const describeBlock = (block: Block): string => {
  const said = of(block).describe(block).replace(/\s+/g, ' ').trim()
  return said || of(block).name
}

/** What a section says in short: its first words, or what it holds. */
export function describeSection({ columns }: Section): string {
  const blocks = columns.flatMap((each) => each.blocks)
  const first = blocks.find(({ kind }) => kind === 'heading') ?? blocks[0]
  return first ? describeBlock(first) : 'empty section'
}

export const textOf = (block: Block): string[] =>
  of(block)
    .text(block)
    .filter((each) => each.trim() !== '')

/** Every text of a document, in reading order. */
export const documentText = (document: BlockDocument): string[] =>
  [...walk(document)].flatMap(({ block }) => textOf(block))

/** A link of a document: told by the block's id, and within it by a part. */
export interface DocumentLink extends BlockLink {
  block: string
}

/** Every place that a document leads to; what leads nowhere is left out. */
export const documentLinks = (document: BlockDocument): DocumentLink[] =>
  [...walk(document)].flatMap(({ block }) =>
    of(block)
      .links(block)
      .filter(({ target }) => target.to !== 'nowhere')
      .map((link) => ({ block: block.id, ...link })),
  )

/** Whom its sections and blocks are shown to, where not to all. */
export const conditionsIn = (document: BlockDocument): Condition[] =>
  [...document.sections, ...[...walk(document)].map(({ block }) => block)].flatMap(({ shownTo }) =>
    shownTo ? [shownTo.people] : [],
  )

const referencesOfPeople = (shownTo: ShownTo | null): Reference[] =>
  shownTo ? leavesOf(shownTo.people).flatMap(referencesOfLeaf) : []

/** What a block speaks of, with what its links lead to and whom it is shown to. */
export const blockReferences = (block: Block): Reference[] => [
  ...of(block).references(block),
  ...of(block)
    .links(block)
    .flatMap(({ target }) => referenceOf(target) ?? []),
  ...referencesOfPeople(block.shownTo),
]

/** Everything that a document speaks of, each once. */
export function documentReferences(document: BlockDocument): Reference[] {
  const all = [
    ...document.sections.flatMap(({ shownTo, look }): Reference[] => [
      ...referencesOfPeople(shownTo),
      ...(look.picture === null ? [] : [{ kind: 'pictures' as const, id: look.picture }]),
    ]),
    ...[...walk(document)].flatMap(({ block }) => blockReferences(block)),
  ]
  return [...new Map(all.map((each) => [`${each.kind} ${each.id}`, each])).values()]
}

/** The merge fields of a block, in reading order. Braces of somebody's own markup are none. */
export const blockFields = (block: Block): MergeField[] =>
  block.kind === 'ownHtml' ? [] : textOf(block).flatMap(fieldsIn)

/**
 * Merge fields in a document that name nothing, with the block where each stands.
 * @param names the keys of those that there are
 */
export const unknownMergeFields = (
  document: BlockDocument,
  names: ReadonlySet<string>,
): { block: string; field: string }[] =>
  [...walk(document)].flatMap(({ block }) =>
    blockFields(block)
      .filter(({ name }) => !names.has(fieldKey(name)))
      .map((field) => ({ block: block.id, field: writtenField(field) })),
  )

/** When the next countdown of a document ends (ms), which then says something else; `Infinity` when none does. */
export const nextCountdownEnd = (document: BlockDocument, now: number): number =>
  Math.min(
    ...[...walk(document)]
      .map(({ block }) => (block.kind === 'countdown' && block.until !== null ? Date.parse(block.until) : 0))
      .filter((end) => end > now),
  )

/** Does a block look different to different people? @param shared keys of the fields that all read alike */
export const isBlockPersonal = (block: Block, shared: ReadonlySet<string> = new Set()): boolean =>
  block.shownTo !== null ||
  block.kind === 'lessonList' ||
  block.kind === 'orderForm' ||
  block.kind === 'nextOffer' ||
  block.kind === 'purchase' ||
  (block.kind === 'countdown' && block.deadline !== null) ||
  blockFields(block).some(({ name }) => !shared.has(fieldKey(name))) ||
  blockReferences(block).some(({ kind }) => kind === 'files' && block.kind !== 'video')

/** Does a document look different to different people? Others have the same for all, which can be kept. */
export const isDocumentPersonal = (document: BlockDocument, shared?: ReadonlySet<string>): boolean =>
  document.sections.some(({ shownTo }) => shownTo !== null) ||
  [...walk(document)].some(({ block }) => isBlockPersonal(block, shared))
