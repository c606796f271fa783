import { decide } from '../scoring.ts'
import type { QuizContent, QuizQuestion } from '../quiz.ts'
import { inUnits, optionsOf, type Option, type Shares } from './options.ts'
import { likelier, mergedAll, onlySum, shifted, sorted, type SortedSums } from './sortedSums.ts'

/** Smaller tables are not looked through for results that can win no more. */
const fewSums = 10_000

/** Ranges wider than this say nothing: then no chances are given. */
const widestRange = 0.1

/** Looking through larger ones is worth it once in so many questions. */
const pruneEvery = 2

/** How likely something is: exactly when both are the same, else between the two. */
export interface Between {
  least: number
  most: number
}

/** What taking a quiz comes to. */
export interface Chances {
  /** Of each result, by its place. */
  results: readonly Between[]
  /** How likely it is that the rule for ties decides. */
  ties: Between
  /** Every sum that can come about, from the lowest on; empty where sums give nothing. */
  sums: readonly { sum: number; chance: number }[]
}

/** Ways to answer so far that go on alike. */
interface Way {
  /** Places of the results that can still win, in order. */
  alive: readonly number[]
  /** Questions that will be skipped. */
  skips: ReadonlySet<string>
  /** The answer that decides ties. */
  decider: Option | null
}

interface Group extends Way {
  sums: SortedSums
}

interface Asked {
  question: QuizQuestion
  options: readonly Option[]
}

const keyOf = ({ alive, skips, decider }: Way): string =>
  `${alive.join()}|${[...skips].sort().join()}|${decider?.answers.join() ?? ''}`

const greatestDivisor = (a: number, b: number): number => (b === 0 ? a : greatestDivisor(b, a % b))

/** By type and with one option of the same effect less, it is the same: chances of equal effects are put together. */
function condensed(options: readonly Option[], mayCondense: boolean): Option[] {
  if (!mayCondense) return [...options]
  const byEffect = new Map<string, Option>()
  for (const option of options) {
    const key = option.effect.join()
    const known = byEffect.get(key)
    byEffect.set(key, known ? { ...known, chance: known.chance + option.chance } : option)
  }
  return [...byEffect.values()]
}

/** Works out what taking a quiz comes to, question by question. */
class Reckoning {
  private groups: Group[]
  private dropped = 0
  private readonly asked: Asked[]
  /** Every difference of two sums is smaller than this, and above its negative (in units of `unit`). */
  private readonly reach: number
  private readonly unit: number

  /** @param last a question that is answered after all others */
  constructor(
    private readonly content: QuizContent,
    shares: Shares,
    private readonly mostSums: number,
    private readonly last: string | null = null,
  ) {
    const { questions, results, by, tie } = content
    const depends = new Set(questions.flatMap(({ skippedBy }) => skippedBy))
    const asked = questions.map((question): Asked => {
      const options = optionsOf(question, content, shares).filter(({ chance }) => chance > 0)
      const isPlain = !options.some(({ answers }) => answers.some((id) => depends.has(id)))
      const decides = tie.by === 'answer' && tie.question === question.id
      return { question, options: condensed(options, isPlain && !decides) }
    })
    const effects = asked.flatMap(({ options }) => options.flatMap(({ effect }) => effect))
    this.unit = effects.reduce((all, each) => greatestDivisor(all, Math.abs(each)), 0) || 1
    const widest = (each: Asked): number => {
      const all = each.options.flatMap(({ effect }) => [...effect, 0])
      return (Math.max(...all) - Math.min(...all)) / this.unit
    }
    this.reach = asked.reduce((sum, each) => sum + widest(each), 0) + 1
    // What weighs most comes first: then it is known early who can win no more.
    const isLast = ({ question }: Asked): number => Number(question.id === last)
    this.asked =
      depends.size > 0
        ? asked
        : [...asked].sort((a, b) => isLast(a) - isLast(b) || (by === 'type' ? widest(b) - widest(a) : 0))
    const alive = results.map((_, i) => i)
    this.groups = [{ alive, skips: new Set(), decider: null, sums: onlySum(0) }]
  }

  /** How many sums are packed into one number; by type only distances from the first result matter. */
  private widthOf({ alive }: Way): number {
    return this.content.by === 'points' ? 1 : alive.length - 1 + (this.content.by === 'both' ? 1 : 0)
  }

  /** Can all sums be packed into one number exactly? */
  canPack(): boolean {
    const [first] = this.groups
    return first !== undefined && (2 * this.reach) ** this.widthOf(first) < Number.MAX_SAFE_INTEGER / 2
  }

  /** Packs distances from the first, and the sum where it counts. @param of by place of the result, the sum last */
  private pack({ alive }: Way, of: ArrayLike<number>): number {
    const { by, results } = this.content
    const first = of[alive[0] as number] as number
    const base = 2 * this.reach
    let key = 0
    if (by !== 'points')
      for (let p = 1; p < alive.length; p += 1) key = key * base + (of[alive[p] as number] as number) - first
    return by === 'type' ? key : key * base + (of[results.length] as number)
  }

  /** What was packed: by place of the result, the sum last. Results that cannot win are left at nothing. */
  private unpack({ alive }: Way, key: number, into: Float64Array): void {
    const { by, results } = this.content
    const base = 2 * this.reach
    let rest = key
    into.fill(0)
    if (by !== 'type') {
      const higher = Math.floor(rest / base + 0.5)
      into[results.length] = rest - higher * base
      rest = higher
    }
    if (by === 'points') return
    for (let p = alive.length - 1; p > 0; p -= 1) {
      const higher = Math.floor(rest / base + 0.5)
      into[alive[p] as number] = rest - higher * base
      rest = higher
    }
  }

  private skipsAfter({ skips }: Way, option: Option, question: QuizQuestion): ReadonlySet<string> {
    const more = this.content.questions.filter(({ skippedBy }) =>
      skippedBy.some((id) => option.answers.includes(id)),
    )
    if (more.length === 0 && !skips.has(question.id)) return skips
    const after = new Set([...skips, ...more.map(({ id }) => id)])
    after.delete(question.id)
    return after
  }

  /** Gathers lists of sums by how they go on. */
  private gather(parts: readonly Group[]): Group[] {
    const gathered = new Map<string, { way: Way; lists: SortedSums[] }>()
    for (const { sums, ...way } of parts) {
      const key = keyOf(way)
      const known = gathered.get(key)
      if (known) known.lists.push(sums)
      else gathered.set(key, { way, lists: [sums] })
    }
    return [...gathered.values()].map(({ way, lists }) => ({ ...way, sums: mergedAll(lists) }))
  }

  private answer({ question, options }: Asked): void {
    const { tie, results } = this.content
    const nothing: Option = { answers: [], chance: 1, effect: [...results.map(() => 0), 0] }
    const decides = tie.by === 'answer' && tie.question === question.id
    const parts = this.groups.flatMap((group) =>
      (group.skips.has(question.id) ? [nothing] : options).map((option): Group => {
        const by = this.pack(
          group,
          option.effect.map((each) => each / this.unit),
        )
        return {
          alive: group.alive,
          skips: this.skipsAfter(group, option, question),
          decider: decides && option.answers.length > 0 ? option : group.decider,
          sums: shifted(group.sums, by, option.chance),
        }
      }),
    )
    this.groups = this.gather(parts)
  }

  /** The most that each result can still gain on each leader: by the leader's place, then its own. */
  private gains(rest: readonly Asked[]): Float64Array[] {
    const { results } = this.content
    return results.map((_, leader) =>
      Float64Array.from(results, (__, j) =>
        rest.reduce((sum, { question, options }) => {
          const each = options.map(({ effect }) => ((effect[j] ?? 0) - (effect[leader] ?? 0)) / this.unit)
          return sum + Math.max(question.skippedBy.length > 0 ? 0 : -Infinity, ...each)
        }, 0),
      ),
    )
  }

  /** Leaves out the results that can neither win nor tie any more, whatever is still answered. */
  private prune(rest: readonly Asked[]): void {
    const gains = this.gains(rest)
    const counts = new Float64Array(this.content.results.length + 1)
    this.groups = this.gather(this.groups.flatMap((group) => this.pruned(group, gains, counts)))
  }

  private pruned(group: Group, gains: readonly Float64Array[], counts: Float64Array): Group[] {
    const { alive, sums } = group
    if (alive.length < 2) return [group]
    const all = (1 << alive.length) - 1
    const { keys, chances } = sums
    const masks = new Uint16Array(keys.length)
    const sizes = new Map<number, number>()
    for (let i = 0; i < keys.length; i += 1) {
      this.unpack(group, keys[i] as number, counts)
      let leader = alive[0] as number
      for (let p = 1; p < alive.length; p += 1)
        if ((counts[alive[p] as number] as number) > (counts[leader] as number)) leader = alive[p] as number
      const lead = counts[leader] as number
      const gain = gains[leader] as Float64Array
      let mask = 0
      for (let p = 0; p < alive.length; p += 1) {
        const j = alive[p] as number
        if ((counts[j] as number) + (gain[j] as number) >= lead) mask |= 1 << p
      }
      masks[i] = mask
      sizes.set(mask, (sizes.get(mask) ?? 0) + 1)
    }
    if (sizes.get(all) === keys.length) return [group]
    const moved = new Map(
      [...sizes].map(([mask, size]) => {
        const sumsThere = { keys: new Float64Array(size), chances: new Float64Array(size) }
        const way: Way = { ...group, alive: alive.filter((_, p) => (mask & (1 << p)) !== 0) }
        return [mask, { way, sums: sumsThere, size: 0 }] satisfies [number, object]
      }),
    )
    for (let i = 0; i < keys.length; i += 1) {
      const mask = masks[i] as number
      const into = moved.get(mask)
      if (!into) continue
      this.unpack(group, keys[i] as number, counts)
      into.sums.keys[into.size] = mask === all ? (keys[i] as number) : this.pack(into.way, counts)
      into.sums.chances[into.size++] = chances[i] as number
    }
    return [...moved].map(
      ([
        mask,
        {
          way: { alive: left, skips, decider },
          sums: there,
        },
      ]) => ({
        alive: left,
        skips,
        decider,
        sums: mask === all ? there : sorted(there),
      }),
    )
  }

  /** Leaves out what is least likely where there are too many sums: then a chance is a range that holds it. */
  private thin(): void {
    const size = this.groups.reduce((sum, { sums }) => sum + sums.keys.length, 0)
    if (size <= this.mostSums) return
    const all = new Float64Array(size)
    let at = 0
    for (const { sums } of this.groups) {
      all.set(sums.chances, at)
      at += sums.chances.length
    }
    const least = all.sort()[size - Math.floor(this.mostSums / 2)] ?? 0
    this.groups = this.groups.flatMap((group) => {
      const [sums, left] = likelier(group.sums, least)
      this.dropped += left
      return sums.keys.length > 0 ? [{ ...group, sums }] : []
    })
  }

  /** What is decided for each sum. @param last how the last question is answered, which is still to be added */
  private *decisions(last: Option | null = null) {
    const { by, results, tie } = this.content
    const counts = new Float64Array(results.length + 1)
    for (const group of this.groups) {
      const decides = last && tie.by === 'answer' && tie.question === this.last && last.answers.length > 0
      const decider = decides ? last : group.decider
      const preferred = decider ? decider.effect.slice(0, -1) : null
      for (let i = 0; i < group.sums.keys.length; i += 1) {
        this.unpack(group, group.sums.keys[i] as number, counts)
        last?.effect.forEach((each, j) => (counts[j] = (counts[j] ?? 0) + each / this.unit))
        const points = (counts[results.length] ?? 0) * this.unit
        const here = results.map((_, j) => (group.alive.includes(j) ? (counts[j] ?? 0) : -Infinity))
        const decided = decide(this.content, here, points, preferred)
        yield { ...decided, chance: group.sums.chances[i] ?? 0, points: by === 'type' ? null : points }
      }
    }
  }

  private read(): Chances {
    const won = this.content.results.map(() => 0)
    const totals = new Map<number, number>()
    let ties = 0
    for (const { winner, tied, chance, points } of this.decisions()) {
      if (winner >= 0) won[winner] = (won[winner] ?? 0) + chance
      if (tied.length > 1) ties += chance
      if (points !== null) totals.set(points, (totals.get(points) ?? 0) + chance)
    }
    const between = (sum: number): Between => {
      const least = Math.min(1, sum)
      return { least, most: Math.min(1, least + this.dropped) }
    }
    return {
      results: won.map(between),
      ties: between(ties),
      sums: [...totals].sort(([a], [b]) => a - b).map(([sum, chance]) => ({ sum: inUnits(sum), chance })),
    }
  }

  private pass(until: number): boolean {
    let last = 0
    for (const [i, each] of this.asked.slice(0, until).entries()) {
      this.answer(each)
      const size = this.groups.reduce((sum, { sums }) => sum + sums.keys.length, 0)
      if (this.content.by === 'type' && size > fewSums && i - last >= pruneEvery) {
        this.prune(this.asked.slice(i + 1))
        last = i
      }
      this.thin()
      if (this.dropped > widestRange) return false
    }
    return true
  }

  run(): Chances | null {
    return this.pass(this.asked.length) ? this.read() : null
  }

  /** Is there a way to answer all others, after which the last one decides? Null when nobody can tell. */
  lastDecides(): boolean | null {
    const last = this.asked.at(-1)
    if (!last || last.question.id !== this.last || !this.pass(this.asked.length - 1)) return null
    const all = last.options.map((option) => [...this.decisions(option)].map(({ winner }) => winner))
    const [first = []] = all
    if (all.some((winners) => winners.some((winner, i) => winner !== first[i]))) return true
    return this.dropped > 0 ? null : false
  }
}

/**
 * How likely each result is: by convolution over the questions, which is exact as long as there are not too many
 * different sums; beyond that each chance is a range that surely holds it.
 * @param shares how often each answer is chosen; evenly when null
 * @param mostSums different sums that are kept apart at most: more than quizzes have that people take
 * @returns null when there are far too many sums, or weights so far apart that sums of them cannot be told exactly
 */
export function chancesOf(content: QuizContent, shares: Shares = null, mostSums = 400_000): Chances | null {
  const reckoning = new Reckoning(content, shares, mostSums)
  return reckoning.canPack() ? reckoning.run() : null
}

/** Can this question decide the result, whatever else is answered? Null when nobody can tell. */
export function canDecide(content: QuizContent, question: string): boolean | null {
  const reckoning = new Reckoning(content, null, 50_000, question)
  return reckoning.canPack() ? reckoning.lastDecides() : null
}
