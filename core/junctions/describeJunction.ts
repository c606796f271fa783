import { describeCondition } from '../audience/segments/describe.ts'
import { canonical } from '../blocks/canonical.ts'
import type { Condition } from '../audience/segments/condition.ts'
import type { Names } from '../audience/segments/names.ts'
import { not, type Fact } from '../audience/segments/proving.ts'
import type { Scorecard } from '../audience/scores/scorecard.ts'
import type { JunctionContent, JunctionRule } from './junction.ts'
import type { JunctionProof, RuleProof } from './proof.ts'

type Cards = Readonly<Record<number, Scorecard>>

/** What names the things that rules speak of. */
export interface Naming {
  names: Names
  cards: Cards
}

/** Of one thing, what it is says what it is not. */
const saysEnough = (of: Condition): string | null => {
  if (of.kind === 'state') return 'state'
  if (of.kind === 'field') return `field ${of.field}`
  return null
}

/** Somebody as an example: “has the tag “Journal buyer” and not the tag …”. */
export function describePerson(facts: readonly Fact[], { names, cards }: Naming): string {
  const told = new Set(facts.flatMap(({ leaf, holds }) => (holds ? (saysEnough(leaf) ?? []) : [])))
  const needed = facts.filter(({ leaf, holds }) => holds || !told.has(saysEnough(leaf) ?? ''))
  if (needed.length === 0) return 'is anybody at all'
  return [...needed]
    .sort((a, b) => Number(b.holds) - Number(a.holds))
    .map(({ leaf, holds }) => describeCondition(holds ? leaf : not(leaf), names, cards))
    .join(' and ')
}

/** What a rule is called: by its name, or by what it asks. */
export const ruleName = (
  { name, when }: Pick<JunctionRule, 'name' | 'when'>,
  { names, cards }: Naming,
): string => name || describeCondition(when, names, cards)

/** A rule by its place and name. */
export const ruleAt = (rules: readonly JunctionRule[], id: string, naming: Naming): string => {
  const at = rules.findIndex((rule) => rule.id === id)
  const rule = rules[at]
  return rule ? `rule ${at + 1} (${ruleName(rule, naming)})` : 'a rule that is gone'
}

const joined = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join() : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`

/** What keeps people from a rule, in words; null when somebody gets there, or nobody knows. */
export function describeRuleProof(
  proof: RuleProof,
  rules: readonly JunctionRule[],
  naming: Naming,
): string | null {
  switch (proof.is) {
    case 'reached':
    case 'open':
      return null
    case 'impossible':
      return 'Nobody can be as this rule asks.'
    case 'never': {
      const takers = proof.by.map((id) => ruleAt(rules, id, naming))
      const takes = takers.length === 1 ? 'takes' : 'together take'
      return `Nobody gets here: ${joined(takers)} ${takes} everybody it asks for. For example, somebody who ${describePerson(proof.example, naming)} is sent on before.`
    }
  }
}

/** Whom no rule takes, in words, the shortest example first. */
export function describeUntaken({ untaken, more }: JunctionProof, naming: Naming): string[] {
  const kinds = untaken.map((facts) => `Who ${describePerson(facts, naming)}`)
  return more ? [...kinds, 'Others besides'] : kinds
}

/** What is different from the version before, in words. */
export function describeJunctionChanges(
  before: JunctionContent,
  after: JunctionContent,
  naming: Naming,
): string[] {
  const old = new Map(before.rules.map((rule) => [rule.id, rule]))
  const kept = after.rules.filter(({ id }) => old.has(id))
  const name = (rule: JunctionRule): string =>
    rule.name ? `rule “${rule.name}”` : `rule for who ${ruleName(rule, naming)}`
  const isOther = (a: unknown, b: unknown): boolean => canonical(a) !== canonical(b)
  const order = before.rules
    .filter(({ id }) => after.rules.some((rule) => rule.id === id))
    .map(({ id }) => id)
  return [
    ...after.rules.filter(({ id }) => !old.has(id)).map((rule) => `Added the ${name(rule)}`),
    ...before.rules
      .filter(({ id }) => !after.rules.some((rule) => rule.id === id))
      .map((rule) => `Deleted the ${name(rule)}`),
    ...kept.filter((rule) => isOther(rule, old.get(rule.id))).map((rule) => `Changed the ${name(rule)}`),
    ...(isOther(
      order,
      kept.map(({ id }) => id),
    )
      ? ['Changed the order of the rules']
      : []),
    ...(isOther(before.otherwise, after.otherwise) ? ['Changed where everybody else goes'] : []),
    ...(isOther(before.strangers, after.strangers) || before.trustsForms !== after.trustsForms
      ? ['Changed what happens to visitors whom nobody knows']
      : []),
    ...(before.carriesSource === after.carriesSource ? [] : ['Changed whether UTM values are passed on']),
  ]
}
