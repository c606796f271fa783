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

export type WaitKind = 'waitFor' | 'waitDay' | 'waitTime' | 'waitDate' | 'waitRelative' | 'waitUntil'

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

/** What all that walk programs must know of a kind of step. */
interface StepTraits<K extends StepKind> {
  /** One stands still on it. */
  isWait: K extends WaitKind ? true : false
  /** The ways on that it holds, in order. */
  lanes: (step: StepOf<K>) => Lane[]
  /** The same step with other steps in its nth way on. */
  withLane: (step: StepOf<K>, index: number, steps: Step[]) => Step
  conditions: (step: StepOf<K>) => Condition[]
}

const plain = { lanes: () => [], withLane: <S extends Step>(same: S) => same, conditions: () => [] }
const deed = { ...plain, isWait: false as const }
const wait = { ...plain, isWait: true as const }
const message = {
  ...deed,
  conditions: ({ onlyIf }: { onlyIf?: Condition | undefined }) => (onlyIf ? [onlyIf] : []),
}
const replaced = <L extends Lane>(lanes: readonly L[], index: number, steps: Step[]): L[] =>
  lanes.map((each, i) => (i === index ? { ...each, steps } : each))

const stepTraits: { readonly [K in StepKind]: StepTraits<K> } = {
  send: message,
  sendText: message,
  notifyTeam: message,
  waitFor: wait,
  waitDay: wait,
  waitTime: wait,
  waitDate: wait,
  waitRelative: wait,
  waitUntil: {
    isWait: true,
    lanes: ({ happened, otherwise }) => [happened, otherwise],
    withLane: (step, index, steps) =>
      index === 0
        ? { ...step, happened: { ...step.happened, steps } }
        : { ...step, otherwise: { ...step.otherwise, steps } },
    conditions: ({ when }) => [when],
  },
  branch: {
    isWait: false,
    lanes: ({ arms, otherwise }) => [...arms, otherwise],
    withLane: (step, index, steps) =>
      index < step.arms.length
        ? { ...step, arms: replaced(step.arms, index, steps) }
        : { ...step, otherwise: { ...step.otherwise, steps } },
    conditions: ({ arms }) => arms.map(({ when }) => when),
  },
  split: {
    ...deed,
    lanes: ({ shares }) => shares,
    withLane: (step, index, steps) => ({ ...step, shares: replaced(step.shares, index, steps) }),
  },
  addTag: deed,
  removeTag: deed,
  setField: deed,
  givePoints: deed,
  joinTopic: deed,
  leaveTopic: deed,
  startFollowup: deed,
  leaveFollowup: deed,
  startDeadline: deed,
  makeCoupon: deed,
  webhook: deed,
  milestone: deed,
  end: deed,
}
const traitsOf = (of: Step): StepTraits<StepKind> => stepTraits[of.kind] as unknown as StepTraits<StepKind>

/** Does one stand still on it? */
export const isWait = (of: Step): of is WaitStep => stepTraits[of.kind].isWait

/** The ways on that a step holds, in order. */
export const lanesOf = (of: Step): Lane[] => traitsOf(of).lanes(of)

/** The same step with other steps in its nth way on. */
export const withLane = (of: Step, index: number, steps: Step[]): Step =>
  traitsOf(of).withLane(of, index, steps)

/** Every step, outer before inner, in reading order. */
export function allSteps(steps: readonly Step[]): Step[] {
  return steps.flatMap((each) => [each, ...lanesOf(each).flatMap((each) => allSteps(each.steps))])
}

/** The conditions that a step asks. */
export const conditionsOfStep = (of: Step): Condition[] => traitsOf(of).conditions(of)

/** The emails that steps send, each once. */
export const emailsOf = ({ steps }: { steps: readonly Step[] }): number[] => [
  ...new Set(allSteps(steps).flatMap((each) => (each.kind === 'send' ? [each.email] : []))),
]
