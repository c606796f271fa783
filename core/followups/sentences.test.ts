import { describe, expect, it } from 'vitest'
import { noNames } from '../audience/segments/names.ts'
import { describeReentry, describeStart, describeStep, describeWeekdays } from './sentences.ts'
import type { StartRule } from './start.ts'
import type { Step, StepKind } from './step.ts'

const names = {
  ...noNames(),
  emails: { 1: 'Welcome' },
  tags: { 1: 'Bookbinder' },
  fields: { 3: 'Birthday' },
  topics: { 4: 'Letter' },
  scorecards: { 5: 'Interest' },
  followups: { 6: 'Course' },
  segments: { 7: 'Quiet' },
  forms: { 8: 'Fair' },
  pages: { 9: 'Offer' },
  products: { 10: 'Field guide' },
  sessions: { 11: 'Stitch-Along' },
  quizzes: { 12: 'Which binding' },
  junctions: { 3: 'What next' },
  files: { 13: 'Templates' },
  choices: { 'band 5 warm': 'Warm' },
}
const asks = { kind: 'hasTag', tag: 1 } as const
const none = { label: 'No', steps: [] }

/** Each kind of step, as one reads it aloud. */
const steps: { readonly [K in StepKind]: [Step, string] } = {
  send: [{ kind: 'send', id: 'a', email: 1, onlyIf: asks }, 'Send the email “Welcome”. Only if has the tag “Bookbinder”.'],
  sendText: [{ kind: 'sendText', id: 'a', text: 'Soon' }, 'Send the text “Soon”.'],
  notifyTeam: [{ kind: 'notifyTeam', id: 'a', words: 'Call' }, 'Tell the team: “Call”.'],
  waitFor: [{ kind: 'waitFor', id: 'a', amount: 1, unit: 'hours' }, 'Wait 1 hour from the step before.'],
  waitDay: [{ kind: 'waitDay', id: 'a', day: 3, time: '09:00', clocks: 'person' }, 'Wait until day 3 after the start, 09:00 in the reader’s own zone.'],
  waitTime: [{ kind: 'waitTime', id: 'a', weekdays: [1, 2, 3, 4, 5], from: '09:00', to: '11:00', clocks: 'person' }, 'Wait until it is a weekday between 09:00 and 11:00 in the reader’s own zone.'],
  waitDate: [{ kind: 'waitDate', id: 'a', date: '2026-09-14', time: '09:00', past: 'goOn' }, 'Wait until 2026-09-14, 09:00.'],
  waitRelative: [{ kind: 'waitRelative', id: 'a', to: { what: 'deadline', offer: 'Early' }, amount: 12, unit: 'hours', side: 'before', past: 'skip' }, 'Wait until 12 hours before the personal deadline of “Early”.'],
  waitUntil: [{ kind: 'waitUntil', id: 'a', when: asks, atMost: { amount: 1, unit: 'weeks' }, happened: none, otherwise: none }, 'Wait until has the tag “Bookbinder”, at most 1 week.'],
  branch: [{ kind: 'branch', id: 'a', arms: [{ label: 'Yes', when: asks, steps: [] }], otherwise: none }, 'Yes: if has the tag “Bookbinder”. No: everybody else.'],
  split: [{ kind: 'split', id: 'a', shares: [{ label: 'A', share: 30, steps: [] }, { label: 'B', share: 70, steps: [] }] }, 'Split: A 30 %, B 70 %.'],
  addTag: [{ kind: 'addTag', id: 'a', tag: 1 }, 'Add the tag “Bookbinder”.'],
  removeTag: [{ kind: 'removeTag', id: 'a', tag: 1 }, 'Remove the tag “Bookbinder”.'],
  setField: [{ kind: 'setField', id: 'a', field: 3, value: '1990-02-28' }, 'Set “Birthday” to “1990-02-28”.'],
  givePoints: [{ kind: 'givePoints', id: 'a', scorecard: 5, points: 4 }, 'Give 4 points in “Interest”.'],
  joinTopic: [{ kind: 'joinTopic', id: 'a', topic: 4 }, 'Join the topic “Letter”.'],
  leaveTopic: [{ kind: 'leaveTopic', id: 'a', topic: 4 }, 'Leave the topic “Letter”.'],
  startFollowup: [{ kind: 'startFollowup', id: 'a', followup: 6 }, 'Start the follow-up “Course”.'],
  leaveFollowup: [{ kind: 'leaveFollowup', id: 'a', followup: 6 }, 'Leave the follow-up “Course”.'],
  startDeadline: [{ kind: 'startDeadline', id: 'a', offer: 'Early', lasts: { amount: 6, unit: 'days' } }, 'Start the personal deadline of “Early”: 6 days.'],
  makeCoupon: [{ kind: 'makeCoupon', id: 'a', coupon: 'TEN' }, 'Make a code of their own from the coupon “TEN”.'],
  webhook: [{ kind: 'webhook', id: 'a', url: 'https://hook.test/' }, 'Report to https://hook.test/.'],
  milestone: [{ kind: 'milestone', id: 'a', name: 'Offer' }, 'The milestone “Offer”.'],
  end: [{ kind: 'end', id: 'a' }, 'Leave the follow-up here.'],
} // prettier-ignore

/** Each kind of start, as the rest of "Starts when somebody …". */
const starts: { readonly [K in StartRule['kind']]: [Extract<StartRule, { kind: K }>, string] } = {
  formSent: [{ kind: 'formSent', form: 8 }, 'submitted the form “Fair”'],
  addressConfirmed: [{ kind: 'addressConfirmed' }, 'confirmed the address'],
  tagAdded: [{ kind: 'tagAdded', tag: 1 }, 'got the tag “Bookbinder”'],
  tagRemoved: [{ kind: 'tagRemoved', tag: 1 }, 'lost the tag “Bookbinder”'],
  topicJoined: [{ kind: 'topicJoined', topic: 4 }, 'joined the topic “Letter”'],
  topicLeft: [{ kind: 'topicLeft', topic: 4 }, 'left the topic “Letter”'],
  emailOpened: [{ kind: 'emailOpened', email: 1 }, 'opened “Welcome”'],
  emailClicked: [{ kind: 'emailClicked', email: 1 }, 'clicked in “Welcome”'],
  junctionPassed: [{ kind: 'junctionPassed', junction: 3 }, 'was sent on by the junction “What next”'],
  fileDownloaded: [{ kind: 'fileDownloaded', file: 13 }, 'downloaded “Templates”'],
  pageVisited: [{ kind: 'pageVisited', page: 9 }, 'visited the page “Offer”'],
  courseFinished: [{ kind: 'courseFinished' }, 'finished any course'],
  quizLeft: [{ kind: 'quizLeft', quiz: 12 }, 'left the quiz “Which binding”'],
  quizFinished: [{ kind: 'quizFinished', quiz: 12 }, 'finished the quiz “Which binding”'],
  productBought: [{ kind: 'productBought', product: 10 }, 'bought “Field guide”'],
  orderRefunded: [{ kind: 'orderRefunded', product: 10 }, 'got money back for “Field guide”'],
  checkoutLeft: [{ kind: 'checkoutLeft', product: 10 }, 'left the checkout of “Field guide”'],
  sessionRegistered: [{ kind: 'sessionRegistered', session: 11 }, 'registered for “Stitch-Along”'],
  sessionAttended: [{ kind: 'sessionAttended', session: 11 }, 'attended “Stitch-Along”'],
  sessionMissed: [{ kind: 'sessionMissed', session: 11 }, 'missed “Stitch-Along”'],
  bandReached: [{ kind: 'bandReached', scorecard: 5, band: 'warm' }, 'reached the band “Warm” of “Interest” from below'],
  fieldChanged: [{ kind: 'fieldChanged', field: 3 }, 'got another “Birthday”'],
  imported: [{ kind: 'imported' }, 'was imported'],
  eventReported: [{ kind: 'eventReported', name: 'upgraded' }, 'was reported as “upgraded”'],
  segmentEntered: [{ kind: 'segmentEntered', segment: 7 }, 'came into the segment “Quiet”'],
  dateComes: [{ kind: 'dateComes', field: 3, side: 'before', days: 1, every: 'year', time: '09:00' }, 'was 1 day before the date in “Birthday”, every year, at 09:00'],
} // prettier-ignore

describe('in words', () => {
  it.each(Object.entries(steps))('a step of the kind %s reads aloud', (_kind, [step, sentence]) => {
    const { title, detail } = describeStep(step, names)
    expect(detail).toBe(sentence)
    expect(title.length).toBeGreaterThan(0)
    expect(title.length).toBeLessThan(60)
  })

  it.each(Object.entries(starts))('a start of the kind %s reads aloud', (_kind, [rule, words]) => {
    expect(describeStart(rule, names)).toBe(words)
  })

  it('what is gone is said to be gone', () => {
    expect(describeStep({ kind: 'addTag', id: 'a', tag: 99 }, names).detail).toContain('something deleted')
    expect(describeStart({ kind: 'segmentEntered', segment: 99 }, names)).toContain('something deleted')
  })

  it.each([
    [[1, 2, 3, 4, 5, 6, 7], 'any day'],
    [[7], 'a Sunday'],
    [[7, 6], 'Saturday or Sunday'],
    [[1, 3, 5], 'Monday, Wednesday or Friday'],
  ])('weekdays %j are %s', (days, words) => expect(describeWeekdays(days)).toBe(words))

  it('how often people come in is a sentence each', () => {
    const all = (['never', 'afterLeaving', 'afterDays', 'always'] as const).map((reentry) =>
      describeReentry({ reentry, reentryDays: 1 }),
    )
    expect(new Set(all).size).toBe(4)
    expect(all[2]).toBe('People can enter again 1 day after they entered.')
  })
})
