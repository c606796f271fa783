import type { Block } from '../../core/blocks/block.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import type { PageContent } from '../../core/pages/page.ts'

/** A document as it is stored: own HTML without what could do harm. @param safe for the medium that it is read in */
export const makeDocumentSafe = (document: BlockDocument, safe = safeHtml): BlockDocument => ({
  ...document,
  sections: document.sections.map((section) => ({
    ...section,
    columns: section.columns.map((column) => ({
      ...column,
      blocks: column.blocks.map((block): Block =>
        block.kind === 'ownHtml' ? { ...block, markup: safe(block.markup) } : block,
      ),
    })),
  })),
})

/** The same for a page. */
export const makeContentSafe = (content: PageContent): PageContent => ({
  ...content,
  document: makeDocumentSafe(content.document),
})
