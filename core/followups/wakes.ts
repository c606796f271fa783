import type { ActivityKind } from '../audience/people/activity.ts'
import { leavesOf, type Condition, type Leaf } from '../audience/segments/condition.ts'
import type { Program } from './program.ts'
import { allSteps } from './step.ts'
import { awaitedBy, type AwaitedActivity } from './trigger.ts'

const any = (...kinds: ActivityKind[]): AwaitedActivity[] => kinds.map((kind) => ({ kind, details: {} }))

/** What can change the answer to a question. What changes by time alone wakes nobody. */
function changing(leaf: Leaf, segments: Readonly<Record<number, Condition>>): AwaitedActivity[] {
  switch (leaf.kind) {
    case 'did':
      return [{ kind: leaf.activity, details: leaf.details }]
    case 'hasTag':
      return [
        { kind: 'tagAdded', details: { tag: leaf.tag } },
        { kind: 'tagRemoved', details: { tag: leaf.tag } },
      ]
    case 'field':
      return any('contactChanged', 'contactMerged', 'formSent')
    case 'topic':
      return [
        { kind: 'topicJoined', details: { topic: leaf.topic } },
        { kind: 'topicLeft', details: { topic: leaf.topic } },
      ]
    case 'state':
      return any('consentGiven', 'addressConfirmed', 'unsubscribed', 'emailFailed', 'contactChanged')
    case 'score':
    case 'band': {
      const details = { scorecard: leaf.scorecard }
      return [
        { kind: 'bandReached', details },
        { kind: 'bandLeft', details },
      ]
    }
    case 'segment': {
      const { [leaf.segment]: tree, ...others } = segments
      return tree ? leavesOf(tree).flatMap((inner) => changing(inner, others)) : []
    }
    case 'agreedTo':
      return any('consentGiven')
    case 'followup':
      return [
        { kind: 'followupStarted', details: { followup: leaf.followup } },
        { kind: 'followupEnded', details: { followup: leaf.followup } },
      ]
    case 'deadline':
      return leaf.is === 'over' ? [] : any('deadlineStarted')
    case 'source':
      return any('contactMerged')
    case 'created':
      return []
  }
}

/**
 * What those inside a follow-up wait for, each once.
 * @param segments those that conditions name, and that these name
 */
export function wakingsOf(
  { steps, leavesWhen }: Program,
  segments: Readonly<Record<number, Condition>>,
): AwaitedActivity[] {
  const onSteps = allSteps(steps).flatMap((step) => {
    if (step.kind === 'waitUntil') return leavesOf(step.when).flatMap((leaf) => changing(leaf, segments))
    return step.kind === 'waitRelative' && step.to.what === 'field' ? any('contactChanged', 'formSent') : []
  })
  const anywhere = leavesWhen.map(({ when }) => awaitedBy(when))
  return [...new Map([...anywhere, ...onSteps].map((each) => [JSON.stringify(each), each])).values()]
}

/** The kinds of activity by which people leave, to be read with what is known of them. */
export const kindsToLeave = ({ leavesWhen }: Program): ActivityKind[] => [
  ...new Set(leavesWhen.map(({ when }) => awaitedBy(when).kind)),
]
