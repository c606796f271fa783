import type { Block } from '../../core/blocks/block.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { findPart, isSection } from '../../core/blocks/operations.ts'
import type { FileSlot } from '../../core/funnels/funnelFile.ts'
import type { Queries } from '../database/connect.ts'

/** A page or an email as it is written. */
export interface Written {
  id: number
  name: string
  content: { document: BlockDocument }
}

/** The newest versions of pages or emails. */
export const readWritten = (
  q: Queries,
  table: 'page' | 'email',
  ids: readonly number[],
): Promise<Written[]> =>
  q.rows<Written>(
    `select distinct on (id) id, name, content
     from ${table} join ${table}_version on ${table}_id = id where id = any($1) order by id, number desc`,
    [ids],
  )

/** A button that waits for the file; null when it was taken out, or leads elsewhere by now. */
export function waitingButton(document: BlockDocument, block: string): Block<'button'> | null {
  const part = findPart(document, block)?.part
  return part && !isSection(part) && part.kind === 'button' && part.target.to === 'nowhere' ? part : null
}

/** The places that still wait for the file that the funnel gives away. */
export const waitingIn = (
  slots: readonly FileSlot[],
  pages: readonly Pick<Written, 'id' | 'content'>[],
  emails: readonly Pick<Written, 'id' | 'content'>[],
): FileSlot[] =>
  slots.filter((slot) => {
    const owner =
      slot.in === 'page'
        ? pages.find(({ id }) => id === slot.page)
        : emails.find(({ id }) => id === slot.email)
    return owner !== undefined && waitingButton(owner.content.document, slot.block) !== null
  })

/** The same, read for it. */
export async function waitingSlots(q: Queries, slots: readonly FileSlot[]): Promise<FileSlot[]> {
  const pages = slots.flatMap((slot) => (slot.in === 'page' ? [slot.page] : []))
  const emails = slots.flatMap((slot) => (slot.in === 'email' ? [slot.email] : []))
  return waitingIn(slots, await readWritten(q, 'page', pages), await readWritten(q, 'email', emails))
}
