import { describeCondition } from '../audience/segments/describe.ts'
import { nameOf, type Names } from '../audience/segments/names.ts'
import { describeActivity } from '../audience/segments/describe.ts'
import type { Program } from './program.ts'
import { isTrigger, usualReentryDays, type StartRule } from './start.ts'
import type { Step, WaitStep } from './step.ts'
import { awaitedBy, type Trigger, type TriggerKind } from './trigger.ts'
import type { Clocks, TimeSpan } from './waitShapes.ts'

/** "2 days", "1 hour". */
export const describeSpan = ({ amount, unit }: TimeSpan): string =>
  `${amount} ${amount === 1 ? unit.slice(0, -1) : unit}`

const weekdayNames = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/** "a weekday", "Saturday or Sunday", "any day". */
export function describeWeekdays(weekdays: readonly number[]): string {
  const days = [...new Set(weekdays)].sort((a, b) => a - b)
  if (days.length === 7) return 'any day'
  if (days.join() === '1,2,3,4,5') return 'a weekday'
  const names = days.map((day) => weekdayNames[day - 1] ?? '')
  return names.length === 1 ? `a ${names[0]}` : `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`
}

const onClocks = (clocks: Clocks | undefined): string =>
  clocks === 'person' ? ' in the reader’s own zone' : ''

/** What a wait is relative to, in words. */
const describeReference = (wait: Extract<WaitStep, { kind: 'waitRelative' }>, names: Names): string => {
  switch (wait.to.what) {
    case 'session':
      return 'the session begins'
    case 'field':
      return `the date in ${nameOf(names, 'fields', wait.to.field)} (${wait.to.time})`
    case 'deadline':
      return `the personal deadline of “${wait.to.offer}”`
  }
}

/** The rest of the sentence "Wait …", as one reads it aloud. */
export function describeWait(wait: WaitStep, names: Names): string {
  switch (wait.kind) {
    case 'waitFor':
      return describeSpan(wait)
    case 'waitDay':
      return `until day ${wait.day} after the start${wait.time === undefined ? '' : `, ${wait.time}`}${onClocks(wait.clocks)}`
    case 'waitTime': {
      const within = wait.from === wait.to ? '' : ` between ${wait.from} and ${wait.to}`
      return `until it is ${describeWeekdays(wait.weekdays)}${within}${onClocks(wait.clocks)}`
    }
    case 'waitDate':
      return `until ${wait.date}, ${wait.time}`
    case 'waitRelative':
      return wait.amount === 0
        ? `until ${describeReference(wait, names)}`
        : `until ${describeSpan(wait)} ${wait.side} ${describeReference(wait, names)}`
    case 'waitUntil':
      return `until ${describeCondition(wait.when, names)}, at most ${describeSpan(wait.atMost)}`
  }
}

/** The shortest that fits on a track: "2 days", "day 4, 09:00". */
export function titleOfWait(wait: WaitStep): string {
  switch (wait.kind) {
    case 'waitFor':
      return describeSpan(wait)
    case 'waitDay':
      return `until day ${wait.day}${wait.time === undefined ? '' : `, ${wait.time}`}`
    case 'waitTime':
      return `until ${describeWeekdays(wait.weekdays)}${wait.from === wait.to ? '' : `, ${wait.from}–${wait.to}`}`
    case 'waitDate':
      return `until ${wait.date}, ${wait.time}`
    case 'waitRelative': {
      const to = { session: 'session', field: 'date', deadline: 'deadline' }[wait.to.what]
      return wait.amount === 0 ? `until the ${to}` : `${describeSpan(wait)} ${wait.side} the ${to}`
    }
    case 'waitUntil':
      return `at most ${describeSpan(wait.atMost)}`
  }
}

type Says<K extends TriggerKind> = (of: Extract<Trigger, { kind: K }>, names: Names) => string
/** As a journal says the activity itself. */
const asDone = (of: Trigger, names: Names): string => {
  const { kind, details } = awaitedBy(of)
  return describeActivity(kind, details, names)
}

const triggerWords: { readonly [K in TriggerKind]: Says<K> } = {
  formSent: asDone,
  addressConfirmed: asDone,
  tagAdded: asDone,
  tagRemoved: asDone,
  topicJoined: asDone,
  topicLeft: asDone,
  emailOpened: asDone,
  emailClicked: asDone,
  fileDownloaded: asDone,
  pageVisited: asDone,
  quizFinished: asDone,
  courseFinished: asDone,
  quizLeft: asDone,
  junctionPassed: asDone,
  productBought: asDone,
  orderRefunded: asDone,
  checkoutLeft: asDone,
  sessionRegistered: asDone,
  sessionAttended: asDone,
  sessionMissed: asDone,
  eventReported: asDone,
  bandReached: ({ scorecard, band }, names) => {
    const name = names.choices?.[`band ${scorecard} ${band}`] ?? band
    return `reached the band “${name}” of ${nameOf(names, 'scorecards', scorecard)} from below`
  },
  fieldChanged: ({ field }, names) =>
    `got another ${typeof field === 'number' ? nameOf(names, 'fields', field) : field}`,
  imported: () => 'was imported',
}

/** What somebody did, as the rest of "Starts once somebody …". */
export const describeTrigger = (of: Trigger, names: Names): string =>
  (triggerWords[of.kind] as Says<TriggerKind>)(of, names)

/** What lets people in, as the rest of "Starts once somebody …". */
export function describeStart(rule: StartRule, names: Names): string {
  if (isTrigger(rule)) return describeTrigger(rule, names)
  if (rule.kind === 'segmentEntered')
    return `came into the segment ${nameOf(names, 'segments', rule.segment)}`
  const field = nameOf(names, 'fields', rule.field)
  const when =
    rule.days === 0
      ? `reached the date in ${field}`
      : `was ${describeSpan({ amount: rule.days, unit: 'days' })} ${rule.side} the date in ${field}`
  return `${when}${rule.every === 'year' ? ', every year' : ''}, at ${rule.time}`
}

/** How often one person may come in, in a sentence. */
export function describeReentry({ reentry, reentryDays }: Pick<Program, 'reentry' | 'reentryDays'>): string {
  switch (reentry) {
    case 'never':
      return 'Each person enters once.'
    case 'afterLeaving':
      return 'People can enter again after leaving.'
    case 'afterDays':
      return `People can enter again ${describeSpan({ amount: reentryDays ?? usualReentryDays, unit: 'days' })} after they entered.`
    case 'always':
      return 'People enter every time, also while they are inside.'
  }
}

/** A step in a few words, and in a sentence that reads aloud. */
export function describeStep(step: Step, names: Names): { title: string; detail: string } {
  const only = (when: Parameters<typeof describeCondition>[0] | undefined): string =>
    when ? ` Only if ${describeCondition(when, names)}.` : ''
  switch (step.kind) {
    case 'send': {
      const email = nameOf(names, 'emails', step.email)
      const full =
        step.whenFull === 'skip' ? ' Not at all when the sending rules have no place that day.' : ''
      return { title: email, detail: `Send the email ${email}.${only(step.onlyIf)}${full}` }
    }
    case 'sendText':
      return { title: `text “${step.text}”`, detail: `Send the text “${step.text}”.${only(step.onlyIf)}` }
    case 'notifyTeam':
      return { title: 'tell the team', detail: `Tell the team: “${step.words}”.${only(step.onlyIf)}` }
    case 'waitFor':
      return { title: describeSpan(step), detail: `Wait ${describeSpan(step)} from the step before.` }
    case 'waitDay':
    case 'waitTime':
    case 'waitDate':
    case 'waitRelative':
    case 'waitUntil':
      return { title: titleOfWait(step), detail: `Wait ${describeWait(step, names)}.` }
    case 'branch': {
      const arms = step.arms.map(({ label, when }) => `${label}: if ${describeCondition(when, names)}.`)
      return { title: 'branch', detail: [...arms, `${step.otherwise.label}: everybody else.`].join(' ') }
    }
    case 'split': {
      const shares = step.shares.map(({ label, share }) => `${label} ${share} %`)
      return { title: 'split', detail: `Split: ${shares.join(', ')}.` }
    }
    case 'addTag':
      return both(`tag ${nameOf(names, 'tags', step.tag)}`, `Add the tag ${nameOf(names, 'tags', step.tag)}.`)
    case 'removeTag':
      return both(
        `take off ${nameOf(names, 'tags', step.tag)}`,
        `Remove the tag ${nameOf(names, 'tags', step.tag)}.`,
      )
    case 'setField': {
      const field = nameOf(names, 'fields', step.field)
      return both(`set ${field}`, `Set ${field} to “${step.value}”.`)
    }
    case 'givePoints': {
      const card = nameOf(names, 'scorecards', step.scorecard)
      return both(`${step.points} points`, `Give ${step.points} points in ${card}.`)
    }
    case 'joinTopic':
      return both(
        `join ${nameOf(names, 'topics', step.topic)}`,
        `Join the topic ${nameOf(names, 'topics', step.topic)}.`,
      )
    case 'leaveTopic':
      return both(
        `leave ${nameOf(names, 'topics', step.topic)}`,
        `Leave the topic ${nameOf(names, 'topics', step.topic)}.`,
      )
    case 'startFollowup': {
      const name = nameOf(names, 'followups', step.followup)
      return both(`start ${name}`, `Start the follow-up ${name}.`)
    }
    case 'leaveFollowup': {
      const name = nameOf(names, 'followups', step.followup)
      return both(`stop ${name}`, `Leave the follow-up ${name}.`)
    }
    case 'startDeadline':
      return both(
        `deadline “${step.offer}”`,
        `Start the personal deadline of “${step.offer}”: ${describeSpan(step.lasts)}.`,
      )
    case 'makeCoupon':
      return both(`coupon “${step.coupon}”`, `Make a code of their own from the coupon “${step.coupon}”.`)
    case 'webhook':
      return both('webhook', `Report to ${step.url}.`)
    case 'milestone':
      return both(step.name, `The milestone “${step.name}”.`)
    case 'end':
      return both('end', 'Leave the follow-up here.')
  }
}

const both = (title: string, detail: string): { title: string; detail: string } => ({ title, detail })
