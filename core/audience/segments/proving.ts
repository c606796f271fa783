import type { Condition, Leaf } from './condition.ts'
import { Cases, type CaseTree, type Known } from './cases.ts'

/** A question about an example person, with its answer. */
export interface Fact {
  leaf: Leaf
  holds: boolean
}

/** Cases that are chosen, by variable; of the others nothing is said. */
type Chosen = Map<number, number>

/** Kleene's logic: a part that is open may leave the whole open. */
function valueOf(tree: CaseTree, chosen: Chosen): boolean | null {
  if ('variable' in tree) {
    const value = chosen.get(tree.variable)
    return value === undefined ? null : (tree.holds[value] ?? false)
  }
  if ('not' in tree) {
    const value = valueOf(tree.not, chosen)
    return value === null ? null : !value
  }
  const deciding = 'any' in tree
  let isOpen = false
  for (const part of 'any' in tree ? tree.any : tree.all) {
    const value = valueOf(part, chosen)
    if (value === deciding) return deciding
    isOpen ||= value === null
  }
  return isOpen ? null : !deciding
}

const partsOf = (tree: CaseTree): readonly CaseTree[] =>
  'variable' in tree ? [] : 'not' in tree ? [tree.not] : 'any' in tree ? tree.any : tree.all

/** The first question that is open and matters; null when none does. */
function firstOpen(tree: CaseTree, chosen: Chosen): number | null {
  if ('variable' in tree) return chosen.has(tree.variable) ? null : tree.variable
  for (const part of partsOf(tree)) {
    if (valueOf(part, chosen) !== null) continue
    const open = firstOpen(part, chosen)
    if (open !== null) return open
  }
  return null
}

/** Cases looked at before a question is left open. */
const patience = 20_000
/** Cases looked at for a shorter example than the one at hand. */
const shorteningPatience = 400

type Search = { found: Chosen } | 'none' | 'open'

function search(tree: CaseTree, sizes: readonly number[]): Search {
  const chosen: Chosen = new Map()
  let looked = 0
  const step = (): Search => {
    looked += 1
    if (looked > patience) return 'open'
    const value = valueOf(tree, chosen)
    if (value !== null) return value ? { found: new Map(chosen) } : 'none'
    const variable = firstOpen(tree, chosen)
    if (variable === null) return { found: new Map(chosen) }
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
function irredundant(tree: CaseTree, found: Chosen): Chosen {
  const kept = new Map(found)
  for (const [variable, value] of found) {
    kept.delete(variable)
    if (valueOf(tree, kept) !== true) kept.set(variable, value)
  }
  return kept
}

/** One that says less and holds all the same, if a short search finds it: first of all that have one choice, then two … */
function shortest(tree: CaseTree, sizes: readonly number[], found: Chosen): Chosen {
  const open = [...sizes.keys()]
  let looked = 0
  const pick = (from: number, left: number, chosen: Chosen): Chosen | null => {
    looked += 1
    if (looked > shorteningPatience) return null
    const value = valueOf(tree, chosen)
    if (value !== null || left === 0) return value ? new Map(chosen) : null
    for (const variable of open.slice(from))
      for (let each = 0; each < (sizes[variable] ?? 0); each += 1) {
        chosen.set(variable, each)
        const picked = pick(variable + 1, left - 1, chosen)
        chosen.delete(variable)
        if (picked) return picked
      }
    return null
  }
  for (let size = 0; size < found.size && looked <= shorteningPatience; size += 1) {
    const picked = pick(0, size, new Map())
    if (picked) return picked
  }
  return found
}

/** What choices come to in questions: those that they answer. */
const factsOf = (cases: Cases, chosen: Chosen): Fact[] =>
  cases.leaves.flatMap((leaf) => {
    const holds = valueOf(cases.tree(leaf), chosen)
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

  constructor(conditions: readonly Condition[], known: Known) {
    this.cases = new Cases(conditions, known)
  }

  private find(condition: Condition): { tree: CaseTree; result: Search } {
    const tree = this.cases.tree(condition)
    return { tree, result: search(tree, this.cases.sizes) }
  }

  /** Can this be of somebody, and of whom? @param condition made of questions of the beginning */
  prove(condition: Condition): Proof {
    const { tree, result } = this.find(condition)
    if (result === 'none') return { can: 'never be' }
    if (result === 'open') return { can: 'maybe be' }
    const found = shortest(tree, this.cases.sizes, irredundant(tree, result.found))
    return { can: 'be', example: factsOf(this.cases, found) }
  }

  /** The same without an example. @returns null when it would take too long to find out */
  can(condition: Condition): boolean | null {
    const { result } = this.find(condition)
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
