import type { Condition } from '../audience/segments/condition.ts'
import type { Known } from '../audience/segments/cases.ts'
import { all, not, Prover, type Fact } from '../audience/segments/proving.ts'

/** What a rule asks, with every segment put in its place. */
export interface AskedRule {
  id: string
  when: Condition
}

/** What is proved of one rule. */
export type RuleProof = { id: string } & (
  | /** For example who is like this goes here. */
    { is: 'reached'; example: Fact[] }
    /** Nobody can be as it asks. */
  | { is: 'impossible' }
  /** All whom it asks for are taken before: by these, of whom none can be left out. */
  | { is: 'never'; by: string[]; example: Fact[] }
  /** It would take too long to find out. */
  | { is: 'open' }
)

export interface JunctionProof {
  rules: RuleProof[]
  /** Who is left for `otherwise`, as kinds of people, the shortest first; nobody when empty. */
  untaken: Fact[][]
  /** There are more kinds of them than are told, or not all could be found. */
  more: boolean
}

/** Kinds of people that are told of those whom no rule takes. */
const mostKinds = 6

const conditionOf = (facts: readonly Fact[]): Condition =>
  all(facts.map(({ leaf, holds }) => (holds ? leaf : not(leaf))))

/** Of these earlier rules, those that take everybody of a later one together, none of them in vain. */
function takersOf(prover: Prover, earlier: readonly AskedRule[], when: Condition): AskedRule[] {
  const takers = [...earlier]
  for (const each of earlier) {
    const rest = takers.filter((taker) => taker !== each)
    if (prover.can(all([when, ...rest.map((taker) => not(taker.when))])) === false)
      takers.splice(takers.indexOf(each), 1)
  }
  return takers
}

/** What is proved of one rule by itself; who takes its people is asked when all are known. */
function proveRule(prover: Prover, rules: readonly AskedRule[], at: number): RuleProof | null {
  const rule = rules[at]
  if (!rule) return null
  const { id, when } = rule
  const reached = prover.prove(all([...rules.slice(0, at).map((each) => not(each.when)), when]))
  if (reached.can === 'be') return { id, is: 'reached', example: reached.example }
  if (reached.can === 'maybe be') return { id, is: 'open' }
  const alone = prover.prove(when)
  if (alone.can === 'maybe be') return { id, is: 'open' }
  return alone.can === 'be' ? { id, is: 'never', by: [], example: alone.example } : { id, is: 'impossible' }
}

/**
 * What a junction does with everybody there could be: which rules can be reached at all, and who is left for
 * `otherwise`. Exact over all questions that can be compared, such as tags, states, topics, fields and numbers.
 * @param rules in their order, of which the first that fits takes somebody
 */
export function proveJunction(rules: readonly AskedRule[], known: Known): JunctionProof {
  const prover = new Prover(
    rules.map(({ when }) => when),
    known,
  )
  const proved = rules.flatMap((_rule, at) => proveRule(prover, rules, at) ?? [])
  const untaken: Fact[][] = []
  const left = rules.map(({ when }) => not(when))
  let more = false
  for (;;) {
    const next = prover.prove(all([...left, ...untaken.map((kind) => not(conditionOf(kind)))]))
    if (next.can === 'never be') break
    more = next.can === 'maybe be' || untaken.length === mostKinds
    if (next.can !== 'be' || more) break
    untaken.push(next.example)
    // Nothing is asked of them: that is everybody.
    if (next.example.length === 0) break
  }
  return {
    rules: proved.map((each, at) => {
      const rule = rules[at]
      if (each.is !== 'never' || !rule) return each
      return { ...each, by: takersOf(prover, rules.slice(0, at), rule.when).map(({ id }) => id) }
    }),
    untaken: untaken.sort((a, b) => a.length - b.length),
    more,
  }
}
