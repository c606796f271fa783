import type { Option } from './options.ts'
import { Sums } from './sums.ts'

/** What else matters of how it was answered so far, besides sums. */
export interface Past {
  /** Questions that will be skipped. */
  skips: ReadonlySet<string>
  /** The answer that decides ties. */
  decider: Option | null
}

/** Sums of those ways to answer that go on alike. */
export interface Group {
  past: Past
  /** A bit for each place of a result that can still win. */
  mask: number
  /** The same places, in order. */
  alive: readonly number[]
  sums: Sums
}

/** Results that can still win. */
interface Contenders {
  alive: readonly number[]
  /** Tables that were used for them and are as large as they need: making them anew would take a quarter of the time. */
  spare: Sums[]
}

/** All that can have come about so far, and what comes about by the next answer. */
export class Groups {
  now: Group[] = []
  /** What is gathered: by what else matters, then by who can still win. */
  private readonly gathering = new Map<Past, Map<number, Group>>()
  private readonly contenders = new Map<number, Contenders>()
  private readonly pasts = new Map<string, Past>()

  /** Begins with nothing answered, when each of so many results can win. */
  constructor(private readonly results: number) {
    const past = this.pastOf({ skips: new Set(), decider: null })
    this.of(past, 2 ** results - 1).sums.add(0, 1)
    this.goOn()
  }

  /** Different sums. */
  get size(): number {
    return this.now.reduce((sum, { sums }) => sum + sums.size, 0)
  }

  /** The one object for all pasts that are alike. */
  pastOf(past: Past): Past {
    const key = `${[...past.skips].sort().join()}|${past.decider?.answers.join() ?? ''}`
    const known = this.pasts.get(key) ?? past
    this.pasts.set(key, known)
    return known
  }

  private contendersOf(mask: number): Contenders {
    let known = this.contenders.get(mask)
    if (!known) {
      const places = Array.from({ length: this.results }, (_, place) => place)
      this.contenders.set(mask, (known = { alive: places.filter((place) => (mask >> place) & 1), spare: [] }))
    }
    return known
  }

  /** Where the sums are gathered of those that go on so. */
  of(past: Past, mask: number): Group {
    let groups = this.gathering.get(past)
    if (!groups) this.gathering.set(past, (groups = new Map<number, Group>()))
    let group = groups.get(mask)
    if (!group) {
      const { alive, spare } = this.contendersOf(mask)
      groups.set(mask, (group = { past, mask, alive, sums: spare.pop() ?? new Sums() }))
    }
    return group
  }

  /** Goes on with what was gathered. */
  goOn(): void {
    for (const { mask, sums } of this.now) {
      sums.clear()
      this.contendersOf(mask).spare.push(sums)
    }
    this.now = [...this.gathering.values()].flatMap((byMask) => [...byMask.values()])
    this.gathering.clear()
  }
}
