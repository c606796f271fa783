import { z } from 'zod'
import type { Condition } from '../audience/segments/condition.ts'
import { condition } from '../audience/segments/condition.ts'
import { referencesOfDetails, type Reference } from '../audience/segments/references.ts'
import { reentry, startRule } from './start.ts'
import { allSteps, conditionsOfStep, step, type Step } from './step.ts'
import { trigger } from './trigger.ts'
import { isZone } from './waiting.ts'

/** What ends it for somebody wherever they are, or leads them on to a milestone; never back. */
export const leaveRule = z.object({
  when: trigger,
  /** The id of a milestone; they leave when missing. */
  milestone: z.string().optional(),
})
export type LeaveRule = z.infer<typeof leaveRule>

/** More than anybody reads; a timetable of so many still draws fluently. */
export const mostSteps = 300
/** Lanes within lanes. */
const deepest = 8

/** Looked at before all else: what walks a program calls itself. */
function isTooMuch(value: unknown): string | null {
  let steps = 0
  const walk = (list: unknown, depth: number): string | null => {
    if (!Array.isArray(list)) return null
    if (depth > deepest) return `Lanes can stand in each other ${deepest} deep at most`
    for (const each of list as unknown[]) {
      steps += 1
      if (steps > mostSteps) return `A follow-up can have ${mostSteps} steps at most: split it into two`
      if (typeof each !== 'object' || each === null) continue
      const { arms, shares, happened, otherwise } = each as Record<string, unknown>
      const lanes = [arms, shares, happened, otherwise].flatMap((lane): unknown[] =>
        Array.isArray(lane) ? lane : [lane],
      )
      for (const lane of lanes) {
        const found = walk((lane as { steps?: unknown } | null | undefined)?.steps, depth + 1)
        if (found) return found
      }
    }
    return null
  }
  return walk((value as { steps?: unknown } | null | undefined)?.steps, 0)
}

const shape = z
  .object({
    startsWhen: z.array(startRule).max(20),
    /** Who is to come in must be like this too. */
    entryCondition: condition.optional(),
    reentry,
    /** For `afterDays`. */
    reentryDays: z.number().int().min(1).max(3_660).optional(),
    leavesWhen: z.array(leaveRule).max(20).default([]),
    steps: z.array(step),
    /** IANA zone of its days and hours. */
    zone: z.string().refine(isZone, 'This is no time zone'),
  })
  .check(({ value, issues }) => {
    const all = allSteps(value.steps)
    const ids = all.map((each) => each.id)
    const twice = ids.find((each, i) => ids.indexOf(each) !== i)
    if (twice !== undefined)
      issues.push({ code: 'custom', message: `Two steps have the id ${twice}`, input: ids, path: ['steps'] })
    for (const [i, { milestone }] of value.leavesWhen.entries())
      if (milestone !== undefined && !all.some(({ kind, id }) => kind === 'milestone' && id === milestone))
        issues.push({
          code: 'custom',
          message: 'This milestone is not in the follow-up',
          input: milestone,
          path: ['leavesWhen', i, 'milestone'],
        })
  })

/** A follow-up as data. The same program runs live, in rehearsal, in the forecast and in tests. */
export const program: z.ZodType<Program> = z
  .unknown()
  .superRefine((value, context) => {
    const message = isTooMuch(value)
    if (message) context.addIssue({ code: 'custom', message, path: ['steps'] })
  })
  .pipe(shape)
export type Program = z.output<typeof shape>

/** Every condition that a program asks. */
export function conditionsOf({ steps, entryCondition }: Program): Condition[] {
  return [...(entryCondition ? [entryCondition] : []), ...allSteps(steps).flatMap(conditionsOfStep)]
}

/** What a step refers to, beside what its conditions do. */
export const referencesOfStep = (of: Step): Reference[] => [
  ...referencesOfDetails({ ...of }),
  ...(of.kind === 'waitRelative' ? referencesOfDetails({ ...of.to }) : []),
]

/** What a program refers to, beside what its conditions do. */
export function referencesOfProgram({ startsWhen, leavesWhen, steps }: Program): Reference[] {
  const rules = [...startsWhen, ...leavesWhen.map(({ when }) => when)]
  return [
    ...rules.flatMap((rule) => referencesOfDetails({ ...rule })),
    ...allSteps(steps).flatMap(referencesOfStep),
  ]
}
