import { readFieldValue } from '../audience/describing/field.ts'
import { mayReceive } from '../audience/people/permission.ts'
import type { Condition } from '../audience/segments/condition.ts'
import { formatTime, type Answer } from '../audience/segments/evaluate.ts'
import { nameOf, singularNames, type NamedKind } from '../audience/segments/names.ts'
import { asked, firstOf, type Pass, type Passed, type PasserOf } from './pass.ts'
import { untilDate, untilMoment, untilRelative, untilTrue } from './passingWaits.ts'
import { percentOf } from './share.ts'
import type { Step, StepKind, StepOf } from './step.ts'
import { spanEnds } from './waiting.ts'

/** For a step that changes something: what it names must be there. */
function doing<K extends StepKind>(
  kind: NamedKind,
  idOf: (step: StepOf<K>) => number,
  does: (step: StepOf<K>, pass: Pass, name: string) => string,
): PasserOf<StepOf<K>> {
  return (step, pass, next) => {
    const { names } = pass.context
    const name = nameOf(names, kind, idOf(step))
    if (names[kind][idOf(step)] === undefined)
      pass.note(step.id, 'skipped', `the ${singularNames[kind]} was deleted (${idOf(step)})`)
    else pass.note(step.id, step.kind === 'addTag' ? 'tagged' : 'did', does(step, pass, name))
    return { to: next }
  }
}

const already = (name: string): string => `${name}, already so`

/** A condition that must hold for a step to be carried out; null when there is none, or it holds. */
function hindrance(onlyIf: Condition | undefined, pass: Pass): { holds: boolean; reason: string } {
  if (!onlyIf) return { holds: true, reason: '' }
  const { holds, reason } = asked(onlyIf, pass)
  return { holds: holds === true, reason }
}

const sendEmail: PasserOf<StepOf<'send'>> = (step, pass, next) => {
  const { facts, person, context, enrolment } = pass
  const email = facts.emails[step.email]
  const subject = nameOf(context.names, 'emails', step.email)
  const skip = (reason: string): Passed => {
    pass.note(step.id, 'skipped', `${subject}: ${reason}`)
    return { to: next }
  }
  if (!email) return skip('the email was deleted')
  if (enrolment.sent?.includes(step.id)) return skip('sent to them before')
  const permission = mayReceive(email.purpose, {
    state: person.marketing,
    paused: (person.pausedUntil ?? 0) > context.now,
    agreed: true,
  })
  if (!permission.allowed) return skip(permission.reason)
  const { holds, reason } = hindrance(step.onlyIf, pass)
  if (!holds) return skip(reason)
  pass.effects.push({
    kind: 'sendEmail',
    step: step.id,
    email: step.email,
    ...(step.whenFull && { whenFull: step.whenFull }),
  })
  pass.note(step.id, 'sent', reason ? `${subject}: ${reason}` : subject)
  return { to: next }
}

const branch: PasserOf<StepOf<'branch'>> = (step, pass, next) => {
  const answers: Answer[] = []
  for (const arm of step.arms) {
    const answer = asked(arm.when, pass)
    answers.push(answer)
    if (answer.holds !== true) continue
    pass.note(step.id, 'took', `${arm.label}: ${answer.reason}`)
    return { to: firstOf(arm, next) }
  }
  pass.note(step.id, 'took', `${step.otherwise.label}: ${answers.map(({ reason }) => reason).join('; ')}`)
  return { to: firstOf(step.otherwise, next) }
}

const split: PasserOf<StepOf<'split'>> = (step, pass, next) => {
  const place = percentOf(`${pass.facts.seed} ${step.id}`)
  let end = 0
  const taken = step.shares.find(({ share }) => (end += share) > place) ?? step.shares.at(-1)
  if (!taken) return { to: next }
  pass.note(step.id, 'took', `${taken.label}: their place is ${place.toFixed(1)} of 100`)
  return { to: firstOf(taken, next) }
}

const setField: PasserOf<StepOf<'setField'>> = (step, pass, next) => {
  const field = pass.facts.fields.find(({ id }) => id === step.field)
  const name = nameOf(pass.context.names, 'fields', step.field)
  const read = field && readFieldValue(field, step.value)
  if (!read?.ok || read.value === null) {
    pass.note(step.id, 'skipped', `${name} cannot be set to “${step.value}”`)
    return { to: next }
  }
  const isSo = JSON.stringify(pass.person.fields[step.field]) === JSON.stringify(read.value)
  const words = `${name} is “${step.value}”`
  if (!isSo) {
    pass.person.fields[step.field] = read.value
    pass.effects.push({ kind: 'setField', step: step.id, field: step.field, value: read.value })
  }
  pass.note(step.id, 'did', isSo ? already(words) : words)
  return { to: next }
}

const startDeadline: PasserOf<StepOf<'startDeadline'>> = (step, pass, next) => {
  const { now, zone } = pass.context
  const kept = pass.person.deadlines[step.offer]
  const endsAt = kept ?? spanEnds(step.lasts, now, zone)
  if (kept === undefined) {
    pass.person.deadlines[step.offer] = endsAt
    pass.effects.push({ kind: 'startDeadline', step: step.id, offer: step.offer, endsAt })
  }
  const words = `the deadline of “${step.offer}” is ${formatTime(endsAt, zone)}`
  pass.note(step.id, 'did', kept === undefined ? words : `${words}, as it was`)
  return { to: next }
}

const notYet =
  (what: string): PasserOf<Step> =>
  (step, pass, next) => {
    pass.note(step.id, 'skipped', what)
    return { to: next }
  }

/** What passing each kind of step means. */
const passers: { readonly [K in StepKind]: PasserOf<StepOf<K>> } = {
  send: sendEmail,
  sendText: notYet('text messages are not set up'),
  notifyTeam(step, pass, next) {
    const { holds, reason } = hindrance(step.onlyIf, pass)
    if (holds) pass.effects.push({ kind: 'notifyTeam', step: step.id, words: step.words })
    pass.note(step.id, holds ? 'did' : 'skipped', holds ? 'the team was told' : reason)
    return { to: next }
  },
  waitFor: untilMoment,
  waitDay: untilMoment,
  waitTime: untilMoment,
  waitDate: untilDate,
  waitRelative: untilRelative,
  waitUntil: untilTrue,
  branch,
  split,
  addTag: doing<'addTag'>(
    'tags',
    ({ tag }) => tag,
    ({ id, tag }, { person, effects }, name) => {
      if (person.tags.has(tag)) return `${name}, already there`
      person.tags.add(tag)
      effects.push({ kind: 'addTag', step: id, tag })
      return name
    },
  ),
  removeTag: doing<'removeTag'>(
    'tags',
    ({ tag }) => tag,
    ({ id, tag }, { person, effects }, name) => {
      if (!person.tags.delete(tag)) return `${name}, not there`
      effects.push({ kind: 'removeTag', step: id, tag })
      return `took off ${name}`
    },
  ),
  setField,
  givePoints: doing<'givePoints'>(
    'scorecards',
    ({ scorecard }) => scorecard,
    ({ id, scorecard, points }, { effects }, name) => {
      effects.push({ kind: 'givePoints', step: id, scorecard, points })
      return `${points} points in ${name}`
    },
  ),
  joinTopic: doing<'joinTopic'>(
    'topics',
    ({ topic }) => topic,
    ({ id, topic }, { person, effects }, name) => {
      if (person.topics.has(topic)) return already(`joined ${name}`)
      person.topics.add(topic)
      effects.push({ kind: 'joinTopic', step: id, topic })
      return `joined ${name}`
    },
  ),
  leaveTopic: doing<'leaveTopic'>(
    'topics',
    ({ topic }) => topic,
    ({ id, topic }, { person, effects }, name) => {
      if (!person.topics.delete(topic)) return already(`left ${name}`)
      effects.push({ kind: 'leaveTopic', step: id, topic })
      return `left ${name}`
    },
  ),
  startFollowup: doing<'startFollowup'>(
    'followups',
    ({ followup }) => followup,
    ({ id, followup }, { effects }, name) => {
      effects.push({ kind: 'startFollowup', step: id, followup })
      return `started ${name}`
    },
  ),
  leaveFollowup: doing<'leaveFollowup'>(
    'followups',
    ({ followup }) => followup,
    ({ id, followup }, { effects }, name) => {
      effects.push({ kind: 'leaveFollowup', step: id, followup })
      return `stopped ${name}`
    },
  ),
  startDeadline,
  makeCoupon(step, pass, next) {
    pass.effects.push({ kind: 'makeCoupon', step: step.id, coupon: step.coupon })
    pass.note(step.id, 'did', `a code of the coupon ${step.coupon}, for them alone`)
    return { to: next }
  },
  webhook(step, pass, next) {
    pass.effects.push({ kind: 'webhook', step: step.id, url: step.url })
    pass.note(step.id, 'did', `reported to ${step.url}`)
    return { to: next }
  },
  milestone: (_step, _pass, next) => ({ to: next }),
  end(step, pass) {
    pass.note(step.id, 'left', 'the end of this lane')
    return { to: null }
  },
}

/** Passes one step, or stands still on it. */
export const passStep = (step: Step, pass: Pass, next: string | null): Passed =>
  (passers[step.kind] as PasserOf<Step>)(step, pass, next)
