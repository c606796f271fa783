import { inUnits, type QuizContent, type QuizQuestion } from '../quiz.ts'
import { decide } from '../scoring.ts'
import { Groups, type Group, type Past } from './groups.ts'
import type { Option, Shares } from './options.ts'
import { Packing } from './packing.ts'
import { askedQuestions, inBestOrder, widthOf, type Asked } from './questionOrder.ts'

/** Smaller tables are not looked through for results that can win no more. */
const fewSums = 1000

/** Ranges wider than this say nothing: then no chances are given. */
const widestRange = 0.1

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

const greatestDivisor = (a: number, b: number): number => (b === 0 ? a : greatestDivisor(b, a % b))

/** Works out what taking a quiz comes to, question by question. */
class Reckoning {
  private readonly groups: Groups
  private dropped = 0
  private asked: Asked[]
  /** All effects are multiples of it. */
  private readonly unit: number
  private readonly packing: Packing

  /** @param last a question that is answered after all others */
  constructor(
    private readonly content: QuizContent,
    shares: Shares,
    private readonly mostSums: number,
    private readonly last: string | null = null,
  ) {
    const { results } = content
    const asked = askedQuestions(content, shares)
    const effects = asked.flatMap(({ options }) => options.flatMap(({ effect }) => effect))
    this.unit = effects.reduce((all, each) => greatestDivisor(all, Math.abs(each)), 0) || 1
    this.packing = new Packing(content, asked.reduce((sum, each) => sum + widthOf(each) / this.unit, 0) + 1)
    this.asked = asked
    this.groups = new Groups(results.length)
  }

  /**
   * Makes ready for the questions, in the best order where none depends on another.
   * @returns false when not all sums can be told apart exactly
   */
  begin(): boolean {
    const { questions, results } = this.content
    if (!this.packing.holds(results.length)) return false
    if (questions.every(({ skippedBy }) => skippedBy.length === 0))
      this.asked = inBestOrder(this.asked, this.unit, this.last)
    return true
  }

  private pastAfter(past: Past, option: Option, question: QuizQuestion): Past {
    const { questions, tie } = this.content
    const more = questions.filter(({ skippedBy }) => skippedBy.some((id) => option.answers.includes(id)))
    const decides = tie.by === 'answer' && tie.question === question.id && option.answers.length > 0
    if (more.length === 0 && !past.skips.has(question.id) && !decides) return past
    const skips = new Set([...past.skips, ...more.map(({ id }) => id)])
    skips.delete(question.id)
    return this.groups.pastOf({ skips, decider: decides ? option : past.decider })
  }

  private answer({ question, options }: Asked): void {
    const nothing: Option = { answers: [], chance: 1, effect: [...this.content.results.map(() => 0), 0] }
    for (const { past, mask, alive, sums } of this.groups.now)
      for (const option of past.skips.has(question.id) ? [nothing] : options) {
        const by = this.packing.pack(
          alive,
          option.effect.map((each) => each / this.unit),
        )
        const into = this.groups.of(this.pastAfter(past, option, question), mask).sums
        for (let i = 0; i < sums.size; i += 1)
          into.add((sums.keys[i] as number) + by, (sums.chances[i] as number) * option.chance)
      }
    this.groups.goOn()
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
    for (const group of this.groups.now) this.pruneGroup(group, gains, counts)
    this.groups.goOn()
  }

  private pruneGroup(
    { past, alive, sums }: Group,
    gains: readonly Float64Array[],
    counts: Float64Array,
  ): void {
    let [into, intoMask]: [Group | null, number] = [null, 0]
    for (let i = 0; i < sums.size; i += 1) {
      const key = sums.keys[i] as number
      this.packing.unpack(alive, key, counts)
      let leader = alive[0] as number
      for (let p = 1; p < alive.length; p += 1)
        if ((counts[alive[p] as number] as number) > (counts[leader] as number)) leader = alive[p] as number
      const lead = counts[leader] as number
      const gain = gains[leader] as Float64Array
      let mask = 0
      for (let p = 0; p < alive.length; p += 1) {
        const place = alive[p] as number
        if ((counts[place] as number) + (gain[place] as number) >= lead) mask |= 1 << place
      }
      // Neighbours mostly go on alike.
      if (into === null || mask !== intoMask) into = this.groups.of(past, mask)
      intoMask = mask
      const stays = into.alive.length === alive.length
      into.sums.add(stays ? key : this.packing.pack(into.alive, counts), sums.chances[i] as number)
    }
  }

  /** Leaves out what is least likely where there are too many sums: then a chance is a range that holds it. */
  private thin(): void {
    const size = this.groups.size
    if (size <= this.mostSums) return
    const all = new Float64Array(size)
    let at = 0
    for (const { sums } of this.groups.now) {
      all.set(sums.chances.subarray(0, sums.size), at)
      at += sums.size
    }
    const least = all.sort()[size - Math.floor(this.mostSums / 2)] ?? 0
    for (const { past, mask, sums } of this.groups.now)
      this.dropped += sums.likelier(least, () => this.groups.of(past, mask).sums)
    this.groups.goOn()
  }

  /** What is decided for each sum. @param last how the last question is answered, which is still to be added */
  private *decisions(last: Option | null = null) {
    const { by, results, tie } = this.content
    const counts = new Float64Array(results.length + 1)
    for (const group of this.groups.now) {
      const decides = last && tie.by === 'answer' && tie.question === this.last && last.answers.length > 0
      const decider = decides ? last : group.past.decider
      const preferred = decider ? decider.effect.slice(0, -1) : null
      for (let i = 0; i < group.sums.size; i += 1) {
        counts.fill(0)
        this.packing.unpack(group.alive, group.sums.keys[i] as number, counts)
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
    for (const [i, each] of this.asked.slice(0, until).entries()) {
      this.answer(each)
      if (this.content.by === 'type' && this.groups.size > fewSums) this.prune(this.asked.slice(i + 1))
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
  return reckoning.begin() ? reckoning.run() : null
}

/** Can this question decide the result, whatever else is answered? Null when nobody can tell. */
export function canDecide(content: QuizContent, question: string): boolean | null {
  const reckoning = new Reckoning(content, null, 50_000, question)
  return reckoning.begin() ? reckoning.lastDecides() : null
}
