import type { Block } from '../../core/blocks/block.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import type { PageContent } from '../../core/pages/page.ts'

const safeBlock = (block: Block): Block =>
  block.kind === 'ownHtml' ? { ...block, markup: safeHtml(block.markup) } : block

/** A document as it is stored: own HTML without what could do harm. */
export const makeDocumentSafe = (document: BlockDocument): BlockDocument => ({
  ...document,
  sections: document.sections.map((section) => ({
    ...section,
    columns: section.columns.map((column) => ({ ...column, blocks: column.blocks.map(safeBlock) })),
  })),
})

/** The same for a page. */
export const makeContentSafe = (content: PageContent): PageContent => ({
  ...content,
  document: makeDocumentSafe(content.document),
})
