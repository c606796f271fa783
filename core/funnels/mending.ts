import type { Block } from '../blocks/block.ts'
import type { BlockDocument } from '../blocks/document.ts'
import { edit, findPart, isSection } from '../blocks/operations.ts'
import type { FunnelMend } from './finding.ts'

/** What puts a block right that says or shows nothing, where one press can. @param leadsOn there is a next step */
export function mendOfBlock(
  of: Block,
  where: { in: 'page' | 'email'; id: number },
  leadsOn: boolean,
): FunnelMend | undefined {
  const remove: FunnelMend = { does: 'removeBlock', ...where, block: of.id }
  switch (of.kind) {
    case 'button':
      if (of.target.to !== 'nowhere') return undefined
      return where.in === 'page' && leadsOn && of.label.trim()
        ? { does: 'leadToNext', page: where.id, block: of.id }
        : remove
    case 'picture':
      return of.picture === null && of.detail === null
        ? remove
        : of.alt.trim()
          ? undefined
          : { does: 'markDecorative', ...where, block: of.id }
    case 'video':
      return of.source === null ? remove : undefined
    case 'countdown':
      return of.until === null ? remove : undefined
    case 'lessonList':
      return of.course === null ? remove : undefined
    case 'lessonCard':
      return of.page === null ? remove : undefined
    case 'sessionCard':
      return of.at === null ? remove : undefined
    case 'form':
      return of.form === null ? remove : undefined
    case 'heading':
      return of.words.trim() ? undefined : remove
    case 'text':
    case 'list':
    case 'quotes':
    case 'questions':
    case 'pictureRow':
    case 'logo':
    case 'priceCard':
    case 'productCard':
    case 'socialLinks':
    case 'divider':
    case 'spacer':
    case 'ownHtml':
      return undefined
  }
}

/** A document that is put right; null when what was meant is gone, or is right already. */
export function mendDocument(document: BlockDocument, mend: FunnelMend): BlockDocument | null {
  if (!('block' in mend)) return null
  const part = findPart(document, mend.block)?.part
  if (!part || isSection(part)) return null
  const put = (block: Block): BlockDocument => edit(document, { do: 'change', part: block }).document
  switch (mend.does) {
    case 'removeBlock':
      return edit(document, { do: 'remove', id: part.id }).document
    case 'leadToNext':
      return part.kind === 'button' && part.target.to === 'nowhere'
        ? put({ ...part, target: { to: 'nextStep' } })
        : null
    case 'markDecorative':
      return part.kind === 'picture' ? put({ ...part, decorative: true }) : null
    case 'openNewWindow':
      return part.kind === 'button' ? put({ ...part, newWindow: true }) : null
  }
}
