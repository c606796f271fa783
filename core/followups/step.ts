import { z } from 'zod'
import { condition, type Condition } from '../audience/segments/condition.ts'
import {
  stepId,
  timeSpan,
  waitDate,
  waitDay,
  waitFor,
  waitRelative,
  waitTime,
  type TimeSpan,
} from './waitShapes.ts'

const id = z.number().int().positive()
const line = z.string().trim().min(1).max(200)
const sentences = z.string().trim().min(1).max(2_000)
const of = <K extends string>(kind: K) => ({ kind: z.literal(kind), id: stepId })

/** Kinds of steps that hold no others. */
const plainSteps = [
  z.object({
    ...of('send'),
    email: id,
    onlyIf: condition.optional(),
    /** What becomes of it when the sending rules have no place for it now: a later day, or not at all. */
    whenFull: z.enum(['move', 'skip']).optional(),
  }),
  z.object({ ...of('sendText'), text: z.string().trim().min(1).max(480), onlyIf: condition.optional() }),
  z.object({ ...of('notifyTeam'), words: sentences, onlyIf: condition.optional() }),
  waitFor,
  waitDay,
  waitTime,
  waitDate,
  waitRelative,
  z.object({ ...of('addTag'), tag: id }),
  z.object({ ...of('removeTag'), tag: id }),
  z.object({ ...of('setField'), field: id, value: z.string().max(300) }),
  z.object({ ...of('givePoints'), scorecard: id, points: z.number().int().min(-1_000).max(1_000) }),
  z.object({ ...of('joinTopic'), topic: id }),
  z.object({ ...of('leaveTopic'), topic: id }),
  z.object({ ...of('startFollowup'), followup: id }),
  z.object({ ...of('leaveFollowup'), followup: id }),
  /** The same person and offer keep the first one. */
  z.object({ ...of('startDeadline'), offer: line.max(80), lasts: timeSpan }),
  z.object({ ...of('makeCoupon'), coupon: line.max(80) }),
  z.object({ ...of('webhook'), url: z.url({ protocol: /^https?$/ }).max(2_000) }),
  z.object({ ...of('milestone'), name: line.max(80) }),
  z.object(of('end')),
] as const
type PlainStep = z.infer<(typeof plainSteps)[number]>

/** The steps of one way on. */
export interface Lane {
  label: string
  steps: Step[]
}
export interface Arm extends Lane {
  when: Condition
}
export interface Share extends Lane {
  /** In percent. */
  share: number
}

/** The first arm whose condition holds is taken, else `otherwise`; then all join again. */
export interface BranchStep {
  kind: 'branch'
  id: string
  arms: Arm[]
  otherwise: Lane
}

/** Everybody is given one of the lanes by a hash, for ever. */
export interface SplitStep {
  kind: 'split'
  id: string
  shares: Share[]
}

/** Until something is true of them, but no longer than that; a lane for each way in which it ends. */
export interface WaitUntilStep {
  kind: 'waitUntil'
  id: string
  when: Condition
  atMost: TimeSpan
  happened: Lane
  otherwise: Lane
}

export type Step = PlainStep | BranchStep | SplitStep | WaitUntilStep
export type StepKind = Step['kind']
export type StepOf<K extends StepKind> = Extract<Step, { kind: K }>
export type SendStep = StepOf<'send'>
export type WaitStep = StepOf<WaitKind>

const waitKinds = ['waitFor', 'waitDay', 'waitTime', 'waitDate', 'waitRelative', 'waitUntil'] as const
export type WaitKind = (typeof waitKinds)[number]

/** Does one stand still on it? */
export const isWait = (step: Step): step is WaitStep => (waitKinds as readonly string[]).includes(step.kind)

const label = z.string().trim().min(1).max(80)

export const step: z.ZodType<Step> = z.lazy(() =>
  z.discriminatedUnion('kind', [
    ...plainSteps,
    z.object({
      ...of('branch'),
      arms: z
        .array(z.object({ label, when: condition, steps }))
        .min(1)
        .max(12),
      otherwise: lane,
    }),
    z
      .object({
        ...of('split'),
        shares: z
          .array(z.object({ label, share: z.number().int().min(1).max(99), steps }))
          .min(2)
          .max(6),
      })
      .refine(({ shares }) => shares.reduce((sum, { share }) => sum + share, 0) === 100, {
        message: 'The shares of a split add up to 100',
        path: ['shares'],
      }),
    z.object({ ...of('waitUntil'), when: condition, atMost: timeSpan, happened: lane, otherwise: lane }),
  ]),
)
const steps = z.array(step)
const lane = z.object({ label, steps })

/** The ways on that a step holds, in order. */
export function lanesOf(of: Step): Lane[] {
  switch (of.kind) {
    case 'branch':
      return [...of.arms, of.otherwise]
    case 'split':
      return of.shares
    case 'waitUntil':
      return [of.happened, of.otherwise]
    default:
      return []
  }
}

/** The same step with other steps in its nth way on. */
export function withLane(of: Step, index: number, steps: Step[]): Step {
  const at = <L extends Lane>(lanes: readonly L[]): L[] =>
    lanes.map((each, i) => (i === index ? { ...each, steps } : each))
  switch (of.kind) {
    case 'branch':
      return index < of.arms.length
        ? { ...of, arms: at(of.arms) }
        : { ...of, otherwise: { ...of.otherwise, steps } }
    case 'split':
      return { ...of, shares: at(of.shares) }
    case 'waitUntil':
      return index === 0
        ? { ...of, happened: { ...of.happened, steps } }
        : { ...of, otherwise: { ...of.otherwise, steps } }
    default:
      return of
  }
}

/** Every step, outer before inner, in reading order. */
export function allSteps(steps: readonly Step[]): Step[] {
  return steps.flatMap((each) => [each, ...lanesOf(each).flatMap((each) => allSteps(each.steps))])
}

/** The conditions that a step asks. */
export function conditionsOfStep(of: Step): Condition[] {
  switch (of.kind) {
    case 'branch':
      return of.arms.map(({ when }) => when)
    case 'waitUntil':
      return [of.when]
    case 'send':
    case 'sendText':
    case 'notifyTeam':
      return of.onlyIf ? [of.onlyIf] : []
    default:
      return []
  }
}
