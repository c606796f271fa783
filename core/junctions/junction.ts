import { z } from 'zod'
import { condition } from '../audience/segments/condition.ts'
import { line } from '../blocks/kinds/blockKind.ts'
import { referenceId } from '../blocks/reference.ts'
import { partId } from '../blocks/richText.ts'
import { nowhere, target, type Target } from '../blocks/target.ts'

/** Far more than anybody sorts by. */
export const mostRules = 100

/** Who is like this goes there. */
export const junctionRule = z.strictObject({
  id: partId,
  /** What the marketer calls those whom it is for; made of the condition when empty. */
  name: line.default(''),
  when: condition,
  target: target.default(nowhere),
})
export type JunctionRule = z.infer<typeof junctionRule>

/** What happens to a visitor whom nobody knows. */
export const forStrangers = z.discriminatedUnion('go', [
  z.strictObject({ go: z.literal('otherwise') }),
  /** They send this form first, and are sent on by what is known of them then. */
  z.strictObject({ go: z.literal('form'), form: referenceId.nullable().default(null) }),
])

/** What a version of a junction holds. */
export const junctionContent = z
  .strictObject({
    rules: z.array(junctionRule).max(mostRules, `A junction has ${mostRules} rules at most`).default([]),
    /** Where everybody goes whom no rule takes. */
    otherwise: target.default(nowhere),
    strangers: forStrangers.default({ go: 'otherwise' }),
    /**
     * Does somebody who typed an address that we know, in a browser that we do not, go by the rules? A stranger who
     * knows that address could then see where its owner is sent.
     */
    trustsForms: z.boolean().default(false),
    /** Where a visit came from (UTM values) goes on with it. */
    carriesSource: z.boolean().default(true),
  })
  .refine(
    ({ rules }) => new Set(rules.map(({ id }) => id)).size === rules.length,
    'Each rule needs an id of its own',
  )
export type JunctionContent = z.infer<typeof junctionContent>

/** The place of `otherwise`, beside the ids of rules: none of them is this short. */
export const otherwise = '-'

/** Every way out of a junction, with the part that it belongs to. */
export const waysOf = ({ rules, otherwise: rest }: JunctionContent): { part: string; target: Target }[] => [
  ...rules.map(({ id, target }) => ({ part: id, target })),
  { part: otherwise, target: rest },
]
