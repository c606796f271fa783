import { evaluate, type EvaluationContext } from '../audience/segments/evaluate.ts'
import type { Person } from '../audience/people/person.ts'
import type { Target } from '../blocks/target.ts'
import { otherwise, type JunctionContent } from './junction.ts'

/** Where somebody is sent, and why. */
export interface Choice {
  /** The id of the rule that took them, or `otherwise`. */
  rule: string
  target: Target
  /** The values that decided, as the journal tells them. */
  reason: string
}

/**
 * Where a junction sends one person: the first rule that they are like. What nobody can tell, since it speaks of
 * something that is gone, takes nobody.
 */
export function choose(content: JunctionContent, person: Person, context: EvaluationContext): Choice {
  for (const { id, when, target } of content.rules) {
    const answer = evaluate(when, person, context)
    if (answer.holds) return { rule: id, target, reason: answer.reason }
  }
  return { rule: otherwise, target: content.otherwise, reason: 'no rule took them' }
}
