import { leavesOf } from '../audience/segments/condition.ts'
import { missingIn } from '../audience/segments/references.ts'
import { nameOf, singularNames, type Names } from '../audience/segments/names.ts'
import { crossCheck } from './crossCheck.ts'
import type { CheckContext, Finding, Mend } from './finding.ts'
import { referencesOfStep, type Program } from './program.ts'
import { canAllHold, unreachableArms } from '../audience/segments/proving.ts'
import { describeTrigger } from './sentences.ts'
import { allSteps, conditionsOfStep, lanesOf, type Step, type StepOf } from './step.ts'
import { mostInAWeek, sendsByPath } from './pace.ts'
import { waitEnds } from './waiting.ts'

/** Emails a week above which people tire of them, where the business says nothing: common practice. */
export const usualAWeek = 5

const error = (words: string, part: string | null = null, mend?: Mend): Finding => ({
  level: 'error',
  words,
  part,
  ...(mend && { mend }),
})
const advice = (words: string, part: string | null = null, mend?: Mend): Finding => ({
  ...error(words, part, mend),
  level: 'advice',
})

function startFindings({ startsWhen }: Program, context: CheckContext): Finding[] {
  if (startsWhen.length === 0 && !context.startedElsewhere)
    return [advice('Nothing starts it: people come in only when somebody lets them in by hand')]
  return startsWhen.flatMap((rule) => {
    const gone = missingDetails({ ...rule }, context.names)
    return gone.length > 0 ? [error(`It starts from something that was deleted: ${gone.join(', ')}`)] : []
  })
}

/** The things that details name and that are gone, in words. */
function missingDetails(details: Record<string, unknown>, names: Names): string[] {
  return referencesOfStep({ kind: 'end', id: '', ...details })
    .filter(({ kind, id }) => names[kind][id] === undefined)
    .map(({ kind, id }) => `the ${singularNames[kind]} ${nameOf(names, kind, id)}`)
}

function emailFindings(step: StepOf<'send'>, { emails, names }: CheckContext): Finding[] {
  const email = emails[step.email]
  const name = nameOf(names, 'emails', step.email)
  if (!email)
    return [
      error(`${name} cannot be sent: choose another email`, step.id, { does: 'removeStep', step: step.id }),
    ]
  const found: Finding[] = []
  if (email.state === 'archived') found.push(error(`The email ${name} is archived`, step.id))
  else if (email.isEmpty) found.push(error(`The email ${name} is empty`, step.id))
  else if (email.faults.length > 0)
    found.push(error(`The email ${name} is not ready: ${email.faults.join('; ')}`, step.id))
  else if (email.state === 'draft')
    found.push(error(`The email ${name} is a draft`, step.id, { does: 'publishEmail', email: step.email }))
  for (const link of email.deadLinks) found.push(advice(`In ${name}, ${link}`, step.id))
  return found
}

/** Conditions that speak of what is gone, and ways that nobody takes, proved. */
function conditionFindings(step: Step, { names }: CheckContext): Finding[] {
  const broken = conditionsOfStep(step).flatMap((tree) => missingIn(tree, names))
  if (broken.length > 0)
    return [error(`It asks about something that was deleted: ${broken.join(', ')}`, step.id)]
  if (step.kind === 'branch') {
    const lanes = lanesOf(step)
    return unreachableArms(step.arms.map(({ when }) => when)).map((way) =>
      advice(
        way < step.arms.length
          ? `Nobody takes the lane “${lanes[way]?.label}”: its condition can never be true there`
          : `Nobody is left for the lane “${lanes[way]?.label}”: the others take everybody`,
        step.id,
      ),
    )
  }
  return conditionsOfStep(step).flatMap((when) => {
    const what = step.kind === 'waitUntil' ? 'What it waits for' : 'Its condition'
    if (canAllHold([when]) === false) return [advice(`${what} can never be true`, step.id)]
    if (canAllHold([{ kind: 'not', of: when }]) === false) return [advice(`${what} is always true`, step.id)]
    return []
  })
}

/** Deadlines and coupons are named by what they are called: what nobody knows closes nothing, and makes none. */
function offerFindings(step: Step, { deadlines, coupons }: CheckContext): Finding[] {
  if (step.kind === 'makeCoupon' && !coupons.has(step.coupon.trim().toUpperCase()))
    return [error(`No coupon “${step.coupon}” makes a code for each person: choose one`, step.id)]
  const named =
    step.kind === 'startDeadline'
      ? step.offer
      : step.kind === 'waitRelative' && step.to.what === 'deadline'
        ? step.to.offer
        : null
  return named === null || deadlines.has(named)
    ? []
    : [advice(`The Library has no deadline “${named}”: nothing closes by it`, step.id)]
}

/** Steps behind an end, which nobody reaches. */
function unreachedSteps(steps: readonly Step[]): Finding[] {
  const found: Finding[] = []
  const ends = (list: readonly Step[]): boolean => {
    let over = false
    for (const step of list) {
      if (over) {
        found.push(
          advice('Nobody reaches this step: every way before it ends', step.id, {
            does: 'removeStep',
            step: step.id,
          }),
        )
        return true
      }
      const lanes = lanesOf(step)
      const all = lanes.map((lane) => ends(lane.steps))
      over = step.kind === 'end' || (lanes.length > 0 && all.every(Boolean))
    }
    return over
  }
  ends(steps)
  return found
}

/** Questions about an email that comes later on the way: a reminder before what it reminds of. */
function askedTooSoon({ steps }: Program, { names }: CheckContext): Finding[] {
  const all = new Set(allSteps(steps).flatMap((step) => (step.kind === 'send' ? [step.email] : [])))
  const found: Finding[] = []
  const walk = (list: readonly Step[], before: ReadonlySet<number>): Set<number> => {
    const sent = new Set(before)
    for (const step of list) {
      for (const leaf of conditionsOfStep(step).flatMap(leavesOf)) {
        if (leaf.kind !== 'did' || (leaf.activity !== 'emailOpened' && leaf.activity !== 'emailClicked'))
          continue
        const { email } = leaf.details
        if (typeof email === 'number' && all.has(email) && !sent.has(email))
          found.push(
            advice(`It asks about ${nameOf(names, 'emails', email)}, which is sent only later`, step.id),
          )
      }
      if (step.kind === 'send') sent.add(step.email)
      for (const lane of lanesOf(step)) for (const email of walk(lane.steps, sent)) sent.add(email)
    }
    return sent
  }
  walk(steps, new Set())
  return found
}

/** Waits that are over before anybody comes to them. */
function pastFindings(program: Program, { now }: CheckContext): Finding[] {
  return allSteps(program.steps).flatMap((step) => {
    if (step.kind !== 'waitDate') return []
    const until = waitEnds(step, now, {
      startedAt: now,
      zone: program.zone,
      session: null,
      dateIn: () => null,
      deadline: () => null,
    })
    if (until === null || until > now) return []
    const what = step.past === 'leave' ? 'everybody leaves here' : 'nobody waits here'
    return [advice(`${step.date}, ${step.time} has passed: ${what}`, step.id)]
  })
}

function sellingFindings({ steps, leavesWhen }: Program, { emails }: CheckContext): Finding[] {
  const selling = allSteps(steps).find((step) => step.kind === 'send' && emails[step.email]?.sells)
  if (!selling || leavesWhen.some(({ when }) => when.kind === 'productBought')) return []
  return [
    advice(
      'It sells, but whoever has bought gets the rest of it all the same: leave at purchase',
      selling.id,
      { does: 'leaveAtPurchase' },
    ),
  ]
}

function paceFindings(program: Program, { emails, aWeek }: CheckContext): Finding[] {
  const isMarketing = (email: number): boolean => emails[email]?.purpose === 'marketing'
  const { most, step } = mostInAWeek(sendsByPath(program, isMarketing))
  return most > aWeek
    ? [advice(`Somebody may get ${most} emails of it within a week: more than ${aWeek} tire people`, step)]
    : []
}

/**
 * What would go wrong were this follow-up live: exact where it says error, each with its step, and where one press
 * puts it right, what that is.
 */
export function findingsOf(program: Program, context: CheckContext): Finding[] {
  const all = allSteps(program.steps)
  const gone = program.leavesWhen.filter(({ when }) => missingDetails({ ...when }, context.names).length > 0)
  return [
    ...startFindings(program, context),
    ...(program.entryCondition
      ? missingIn(program.entryCondition, context.names).map((what) =>
          error(`Who may come in depends on ${what}`),
        )
      : []),
    ...gone.map(({ when }) =>
      error(`People leave by something that was deleted: ${describeTrigger(when, context.names)}`),
    ),
    ...(all.length === 0 ? [error('It has no steps')] : []),
    ...all.flatMap((step) =>
      step.kind === 'send'
        ? emailFindings(step, context)
        : missingDetails({ ...step }, context.names).map((what) => error(`It speaks of ${what}`, step.id)),
    ),
    ...all.flatMap((step) => conditionFindings(step, context)),
    ...all.flatMap((step) => offerFindings(step, context)),
    ...unreachedSteps(program.steps),
    ...askedTooSoon(program, context),
    ...pastFindings(program, context),
    ...sellingFindings(program, context),
    ...paceFindings(program, context),
    ...crossCheck(program, context),
  ]
}
