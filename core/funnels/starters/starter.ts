import type { Goal } from '../funnel.ts'
import type { FunnelWriter } from './writer.ts'

/** What the marketer has said of a new funnel. */
export interface Wishes {
  /** What it is called: its things are named after it. */
  name: string
  path: string
  labels: readonly string[]
  currency: string | null
  /** A day of the business's calendar, of a starter that needs one. */
  opens: string | null
  /** IANA. */
  zone: string
}

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
