import type { Goal } from '../funnel.ts'
import type { Wishes } from './wishes.ts'
import type { FunnelWriter } from './writer.ts'

/** A funnel to begin from: everything made and wired, words to write over, and guidance where one writes. */
export interface FunnelStarter {
  id: string
  goal: Goal
  name: string
  /** What it makes, in a sentence. */
  words: string
  /** What its date is called, where it needs one. */
  date?: string
  write: (writer: FunnelWriter, wishes: Wishes) => void
}
