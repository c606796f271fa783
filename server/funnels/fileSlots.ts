import type { BlockDocument } from '../../core/blocks/document.ts'
import { findPart, isSection } from '../../core/blocks/operations.ts'
import type { FileSlot } from '../../core/funnels/funnelFile.ts'

interface Written {
  id: number
  content: { document: BlockDocument }
}

/** Does a place still wait for the file that the funnel gives away? What was taken out or leads elsewhere does not. */
export const isFileMissing = (
  slots: readonly FileSlot[],
  pages: readonly Written[],
  emails: readonly Written[],
): boolean =>
  slots.some((slot) => {
    const owner =
      slot.in === 'page'
        ? pages.find(({ id }) => id === slot.page)
        : emails.find(({ id }) => id === slot.email)
    const part = owner && findPart(owner.content.document, slot.block)?.part
    return part !== undefined && !isSection(part) && part.kind === 'button' && part.target.to === 'nowhere'
  })
