import { z } from 'zod'
import { condition, type Condition } from '../audience/segments/condition.ts'
import { referencesOfDetails, type Reference } from '../audience/segments/references.ts'

const id = z.number().int().positive()

/** A step keeps its id for ever: people inside a follow-up stand on it through every new version. */
const stepId = z.string().regex(/^[a-z0-9-]{1,40}$/)

/** What starts a follow-up. A missing detail means any. */
export const startsWhen = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('formSent'), form: id.optional(), page: id.optional() }),
  z.object({ kind: z.literal('addressConfirmed'), form: id.optional() }),
  z.object({ kind: z.literal('tagAdded'), tag: id }),
])
export type StartsWhen = z.infer<typeof startsWhen>

/** `never`: one enrolment a person for life. `afterLeaving`: again once the last one has ended. */
export const reentry = z.enum(['never', 'afterLeaving'])

const send = z.object({ kind: z.literal('send'), id: stepId, email: id, onlyIf: condition.optional() })

export const waitUnit = z.enum(['minutes', 'hours', 'days', 'weeks'])
const waitFor = z.object({
  kind: z.literal('waitFor'),
  id: stepId,
  amount: z.number().int().min(1).max(1000),
  unit: waitUnit,
})

const addTag = z.object({ kind: z.literal('addTag'), id: stepId, tag: id })
const end = z.object({ kind: z.literal('end'), id: stepId })

export type SendStep = z.infer<typeof send>
export type WaitStep = z.infer<typeof waitFor>

export interface Arm {
  label: string
  when: Condition
  steps: Step[]
}

/** The first arm whose condition holds is taken, else `otherwise`; then all join again. */
export interface BranchStep {
  kind: 'branch'
  id: string
  arms: Arm[]
  otherwise: { label: string; steps: Step[] }
}

/** The kinds of steps, for shapes that name one. */
export const stepKind = z.enum(['send', 'waitFor', 'branch', 'addTag', 'end'])
export type StepKind = z.infer<typeof stepKind>

export type Step = { kind: StepKind } & (
  SendStep | WaitStep | BranchStep | z.infer<typeof addTag> | z.infer<typeof end>
)

const label = z.string().min(1).max(80)

export const step: z.ZodType<Step> = z.lazy(() =>
  z.union([
    z.discriminatedUnion('kind', [send, waitFor, addTag, end]),
    z.object({
      kind: z.literal('branch'),
      id: stepId,
      arms: z.array(z.object({ label, when: condition, steps: z.array(step) })).min(1),
      otherwise: z.object({ label, steps: z.array(step) }),
    }),
  ]),
)

/** A follow-up as data. The same program runs live, in rehearsal and in previews. */
export const program = z
  .object({
    startsWhen: z.array(startsWhen),
    reentry,
    steps: z.array(step).min(1),
    /** IANA zone of its days and hours. */
    zone: z.string(),
  })
  .check((context) => {
    const ids = allSteps(context.value.steps).map((each) => each.id)
    const twice = ids.find((each, i) => ids.indexOf(each) !== i)
    if (twice !== undefined)
      context.issues.push({
        code: 'custom',
        message: `Two steps have the id ${twice}`,
        input: ids,
        path: ['steps'],
      })
  })
export type Program = z.infer<typeof program>

/** The lists of steps that a step holds: its arms, in order, `otherwise` last. */
export function armsOf(of: Step): { label: string; steps: Step[] }[] {
  return of.kind === 'branch' ? [...of.arms, of.otherwise] : []
}

/** Every step, outer before inner, in reading order. */
export function allSteps(steps: readonly Step[]): Step[] {
  return steps.flatMap((each) => [each, ...armsOf(each).flatMap((arm) => allSteps(arm.steps))])
}

/** Every condition that a program asks. */
export function conditionsOf(program: Program): Condition[] {
  return allSteps(program.steps).flatMap((step) => {
    if (step.kind === 'branch') return step.arms.map((arm) => arm.when)
    return step.kind === 'send' && step.onlyIf ? [step.onlyIf] : []
  })
}

/** What a program refers to, beside what its conditions do. */
export function referencesOfProgram(program: Program): Reference[] {
  const starting = program.startsWhen.flatMap((rule): Reference[] => {
    const { kind: _kind, ...details } = rule
    return referencesOfDetails(details)
  })
  const steps = allSteps(program.steps).flatMap((step): Reference[] => {
    if (step.kind === 'send') return [{ kind: 'emails', id: step.email }]
    return step.kind === 'addTag' ? [{ kind: 'tags', id: step.tag }] : []
  })
  return [...starting, ...steps]
}
