import { canonical } from '../blocks/canonical.ts'
import type { Block } from '../blocks/block.ts'
import type { BlockDocument, Section } from '../blocks/document.ts'
import { describeBlock, describeSection, walk } from '../blocks/walk.ts'
import type { PageContent } from './page.ts'

const same = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b)

/** A part's first words, short enough for a sentence. */
const quoted = (words: string): string => `“${words.length > 60 ? `${words.slice(0, 57)}…` : words}”`

const blocksOf = (document: BlockDocument): Map<string, { block: Block; column: string }> =>
  new Map([...walk(document)].map(({ block, column }) => [block.id, { block, column: column.id }]))

/** A section without its blocks: what can be set about it. */
const settingsOf = ({ columns, ...section }: Section): unknown => ({
  ...section,
  columns: columns.map(({ id, share }) => ({ id, share })),
})

/** Ids that stand in both, in the order of one of them. */
const inBoth = <T>(ids: readonly string[], other: ReadonlyMap<string, T>): string[] =>
  ids.filter((id) => other.has(id))

function changesOfBlocks(before: BlockDocument, after: BlockDocument): string[] {
  const [old, now] = [blocksOf(before), blocksOf(after)]
  const oldOrder = inBoth([...old.keys()], now)
  const newOrder = inBoth([...now.keys()], old)
  const moved = new Set(newOrder.filter((id, i) => oldOrder[i] !== id))
  const changes: string[] = []
  for (const [id, { block, column }] of now) {
    const was = old.get(id)
    const words = quoted(describeBlock(block))
    if (!was) changes.push(`Added ${words}`)
    else if (!same(was.block, block)) {
      const former = quoted(describeBlock(was.block))
      changes.push(former === words ? `Changed ${words}` : `Changed ${former} to ${words}`)
    } else if (was.column !== column || moved.has(id)) changes.push(`Moved ${words}`)
  }
  for (const [id, { block }] of old) if (!now.has(id)) changes.push(`Removed ${quoted(describeBlock(block))}`)
  return changes
}

function changesOfSections(before: BlockDocument, after: BlockDocument): string[] {
  const old = new Map(before.sections.map((section) => [section.id, section]))
  return after.sections.flatMap((section) => {
    const was = old.get(section.id)
    return was && !same(settingsOf(was), settingsOf(section))
      ? [`Changed the look of the section ${quoted(describeSection(section))}`]
      : []
  })
}

const settings: Record<Exclude<keyof PageContent, 'document'>, string> = {
  title: 'title',
  description: 'description',
  language: 'language',
  listed: 'search engines',
  sharing: 'sharing picture and text',
  icon: 'icon of the browser tab',
  limitedTo: 'who may see it',
  opens: 'when the lesson opens',
  deadline: 'the personal deadline',
}

/**
 * What is different between two versions of a document, in words, in reading order.
 * @param named what can be set about the whole, in words
 */
export function describeDocumentChanges<Content extends { document: BlockDocument }>(
  before: Content,
  after: Content,
  named: Readonly<Record<Exclude<keyof Content & string, 'document'>, string>>,
): string[] {
  const set = Object.entries<string>(named).flatMap(([key, words]) =>
    same(before[key as keyof Content], after[key as keyof Content]) ? [] : [`Changed ${words}`],
  )
  return [
    ...set,
    ...changesOfSections(before.document, after.document),
    ...changesOfBlocks(before.document, after.document),
  ]
}

/** What is different between two versions of a page. */
export const describeChanges = (before: PageContent, after: PageContent): string[] =>
  describeDocumentChanges(before, after, settings)
