import { noNames, type Names } from '../audience/segments/names.ts'
import { canonical } from '../blocks/canonical.ts'
import type { Program } from './program.ts'
import { describeReentry, describeStart, describeStep, describeTrigger } from './sentences.ts'
import { allSteps, lanesOf, type Step } from './step.ts'

/** What a step says by itself, without the steps in its lanes. */
const own = (step: Step): string => canonical(step, ['steps'])

/** What each step comes after, in its lane. */
function placesOf(steps: readonly Step[]): Map<string, { lane: string; after: string | null }> {
  const places = new Map<string, { lane: string; after: string | null }>()
  const walk = (list: readonly Step[], lane: string): void =>
    list.forEach((step, i) => {
      places.set(step.id, { lane, after: list[i - 1]?.id ?? null })
      lanesOf(step).forEach((inner, n) => walk(inner.steps, `${step.id}/${n}`))
    })
  walk(steps, '')
  return places
}

/** What is different between two versions, a sentence each. */
export function describeChanges(then: Program, now: Program, names: Names = noNames()): string[] {
  const words: string[] = []
  const [old, fresh] = [allSteps(then.steps), allSteps(now.steps)]
  const byId = new Map(old.map((step) => [step.id, step]))
  const ids = new Set(fresh.map(({ id }) => id))
  const [places, newPlaces] = [placesOf(then.steps), placesOf(now.steps)]
  const title = (step: Step): string => describeStep(step, names).title
  for (const step of fresh) {
    const was = byId.get(step.id)
    if (!was) words.push(`added: ${title(step)}`)
    else if (own(was) !== own(step))
      words.push(`changed: ${title(was)} → ${describeStep(step, names).detail}`)
    else {
      const [from, to] = [places.get(step.id), newPlaces.get(step.id)]
      // After another step that was there before: what is new or gone beside it moves nothing.
      const isBeside =
        to?.after == null ? from?.after == null : byId.has(to.after) && from?.after !== to.after
      if (
        from?.lane !== to?.lane ||
        (isBeside && from?.after !== to?.after && ids.has(from?.after ?? step.id))
      )
        words.push(`moved: ${title(step)}`)
    }
  }
  for (const step of old) if (!ids.has(step.id)) words.push(`taken out: ${title(step)}`)
  const starts = ({ startsWhen }: Program): string =>
    startsWhen.map((rule) => describeStart(rule, names)).join(', or ')
  if (starts(then) !== starts(now)) words.push(`starts when somebody ${starts(now) || '… (nothing)'}`)
  if (describeReentry(then) !== describeReentry(now)) words.push(describeReentry(now))
  const leaves = ({ leavesWhen }: Program): string[] =>
    leavesWhen.map(
      ({ when, milestone }) => `${describeTrigger(when, names)}${milestone ? ' (jumps ahead)' : ''}`,
    )
  if (leaves(then).join() !== leaves(now).join())
    words.push(`people leave when they: ${leaves(now).join(', or ') || 'nothing takes them out'}`)
  if (canonical(then.entryCondition) !== canonical(now.entryCondition))
    words.push('who may come in is another condition')
  if (then.zone !== now.zone) words.push(`times are in ${now.zone}`)
  return words
}
