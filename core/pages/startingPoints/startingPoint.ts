import type { Composer } from '../../blocks/compose.ts'
import type { BlockDocument } from '../../blocks/document.ts'
import type { PagePurpose } from '../page.ts'

/** A ready-made page to begin from, with guidance in grey where one writes. */
export interface StartingPoint {
  id: string
  purpose: PagePurpose
  name: string
  /** What it is good for, in a sentence. */
  words: string
  document: (compose: Composer) => BlockDocument
}
