import type { Condition, Leaf } from './condition.ts'
import { Cases, type CaseTree, type Known } from './cases.ts'

/** A question about an example person, with its answer. */
export interface Fact {
  leaf: Leaf
  holds: boolean
}

/** Cases that are chosen, by variable; of the others nothing is said. */
type Chosen = Map<number, number>

/** How much may still be looked at: parts of conditions, each time that they are asked. */
interface Patience {
  left: number
}

/** Kleene's logic: a part that is open may leave the whole open. */
function valueOf(tree: CaseTree, chosen: Chosen, patience: Patience): boolean | null {
  patience.left -= 1
  if ('variable' in tree) {
    const value = chosen.get(tree.variable)
    return value === undefined ? null : (tree.holds[value] ?? false)
  }
  if ('not' in tree) {
    const value = valueOf(tree.not, chosen, patience)
    return value === null ? null : !value
  }
  const deciding = 'any' in tree
  let isOpen = false
  for (const part of 'any' in tree ? tree.any : tree.all) {
    const value = valueOf(part, chosen, patience)
    if (value === deciding) return deciding
    isOpen ||= value === null
  }
  return isOpen ? null : !deciding
}

const partsOf = (tree: CaseTree): readonly CaseTree[] =>
  'variable' in tree ? [] : 'not' in tree ? [tree.not] : 'any' in tree ? tree.any : tree.all

/** The first question that is open and matters; null when none does. */
function firstOpen(tree: CaseTree, chosen: Chosen, patience: Patience): number | null {
  if ('variable' in tree) return chosen.has(tree.variable) ? null : tree.variable
  for (const part of partsOf(tree)) {
    if (valueOf(part, chosen, patience) !== null) continue
    const open = firstOpen(part, chosen, patience)
    if (open !== null) return open
  }
  return null
}

/**
 * Parts looked at before a question is left open, for a shorter example than the one at hand, and for all questions
 * about the same conditions: a second of a slow machine.
 */
const patienceOnce = 1_500_000
const patienceForShorter = 40_000
const patienceInAll = 6_000_000

type Search = { found: Chosen } | 'none' | 'open'

function search(tree: CaseTree, sizes: readonly number[], patience: Patience): Search {
  const chosen: Chosen = new Map()
  const step = (): Search => {
    const value = valueOf(tree, chosen, patience)
    if (value !== null) return value ? { found: new Map(chosen) } : 'none'
    const variable = firstOpen(tree, chosen, patience)
    if (variable === null) return { found: new Map(chosen) }
    if (patience.left < 0) return 'open'
    for (let each = 0; each < (sizes[variable] ?? 0); each += 1) {
      chosen.set(variable, each)
      const found = step()
      // Out of patience: what is left would be looked at in vain.
      if (found !== 'none') return found
    }
    chosen.delete(variable)
    return 'none'
  }
  return step()
}

/** Without the choices that it holds without. */
function irredundant(tree: CaseTree, found: Chosen, patience: Patience): Chosen {
  const kept = new Map(found)
  for (const [variable, value] of found) {
    if (patience.left < 0) break
    kept.delete(variable)
    if (valueOf(tree, kept, patience) !== true) kept.set(variable, value)
  }
  return kept
}

/** One that says less and holds all the same, if a short search finds it: first of all that have one choice, then two … */
function shortest(tree: CaseTree, sizes: readonly number[], found: Chosen, patience: Patience): Chosen {
  const open = [...sizes.keys()]
  const pick = (from: number, left: number, chosen: Chosen): Chosen | null => {
    const value = valueOf(tree, chosen, patience)
    if (value !== null || left === 0) return value ? new Map(chosen) : null
    for (const variable of open.slice(from))
      for (let each = 0; each < (sizes[variable] ?? 0); each += 1) {
        if (patience.left < 0) return null
        chosen.set(variable, each)
        const picked = pick(variable + 1, left - 1, chosen)
        chosen.delete(variable)
        if (picked) return picked
      }
    return null
  }
  for (let size = 0; size < found.size && patience.left >= 0; size += 1) {
    const picked = pick(0, size, new Map())
    if (picked) return picked
  }
  return found
}

/** What choices come to in questions: those that they answer. */
const factsOf = (cases: Cases, chosen: Chosen): Fact[] =>
  cases.leaves.flatMap((leaf) => {
    const holds = valueOf(cases.tree(leaf), chosen, { left: 0 })
    return holds === null ? [] : [{ leaf, holds }]
  })

/** Whether somebody can be as a condition asks. */
export type Proof =
  /** Yes, for example who is like this, whatever else they are. */
  | { can: 'be'; example: Fact[] }
  | { can: 'never be' }
  /** It would take too long to find out. */
  | { can: 'maybe be' }

/**
 * Proofs about conditions that are asked together: by looking at the cases that they tell apart, leaving a branch as
 * soon as it is decided. That is exact, whatever the number of questions, unless patience ends (Davis, Logemann,
 * Loveland, 1962: the same search over cases of more than two values).
 */
export class Prover {
  private readonly cases: Cases
  private readonly patience: Patience = { left: patienceInAll }

  constructor(conditions: readonly Condition[], known: Known) {
    this.cases = new Cases(conditions, known)
  }

  /** Does something with a part of the patience that is left. */
  private within<Result>(most: number, work: (patience: Patience) => Result): Result {
    const given = Math.max(0, Math.min(most, this.patience.left))
    const patience = { left: given }
    const result = work(patience)
    this.patience.left -= given - patience.left
    return result
  }

  private look(tree: CaseTree): Search {
    return this.within(patienceOnce, (patience) => search(tree, this.cases.sizes, patience))
  }

  /** Can this be of somebody, and of whom? @param condition made of questions of the beginning */
  prove(condition: Condition): Proof {
    const tree = this.cases.tree(condition)
    const result = this.look(tree)
    if (result === 'none') return { can: 'never be' }
    if (result === 'open') return { can: 'maybe be' }
    const found = this.within(patienceForShorter, (patience) =>
      shortest(tree, this.cases.sizes, irredundant(tree, result.found, patience), patience),
    )
    return { can: 'be', example: factsOf(this.cases, found) }
  }

  /** The same without an example. @returns null when it would take too long to find out */
  can(condition: Condition): boolean | null {
    const result = this.look(this.cases.tree(condition))
    return result === 'open' ? null : result !== 'none'
  }
}

const nothingKnown: Known = { fields: [], scorecards: {} }

export const not = (of: Condition): Condition => ({ kind: 'not', of })
export const all = (of: Condition[]): Condition => ({ kind: 'all', of })

/**
 * Can these conditions all hold of one person at once?
 * @returns null when it would take too long to find out
 */
export const canAllHold = (conditions: readonly Condition[], known: Known = nothingKnown): boolean | null =>
  new Prover(conditions, known).can(all([...conditions]))

/** Which ways of a branch nobody can take, by their places; `otherwise` is the one after the last arm. */
export function unreachableArms(whens: readonly Condition[], known: Known = nothingKnown): number[] {
  const prover = new Prover(whens, known)
  const ways = [...whens.keys(), whens.length]
  return ways.filter((way) => {
    const before = whens.slice(0, way).map(not)
    return prover.can(all([...before, ...whens.slice(way, way + 1)])) === false
  })
}
