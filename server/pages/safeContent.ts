import type { Block } from '../../core/blocks/block.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import type { PageContent } from '../../core/pages/page.ts'

const safeBlock = (block: Block): Block =>
  block.kind === 'ownHtml' ? { ...block, markup: safeHtml(block.markup) } : block

/** A content as it is stored: own HTML without what could do harm. */
export const makeContentSafe = (content: PageContent): PageContent => ({
  ...content,
  document: {
    ...content.document,
    sections: content.document.sections.map((section) => ({
      ...section,
      columns: section.columns.map((column) => ({ ...column, blocks: column.blocks.map(safeBlock) })),
    })),
  },
})
