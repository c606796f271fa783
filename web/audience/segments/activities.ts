import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import { bandsOf, quizPartsOf, pricesOf, rulesOf, type PartsOf } from './parts.ts'

/** A kind of activity, as conditions and scorecards offer it. */
export interface Offered {
  kind: ActivityKind
  title: string
  /** The same, denied. */
  not: string
  /** The detail that says what it was about, and the kind of that thing. */
  detail?: string
  things?: NamedKind
  /** What can be asked for within that thing. */
  parts?: PartsOf
  /** Another detail, one of a few words. */
  more?: { detail: string; label: string; words: Readonly<Record<string, string>> }
}

const inTheCourse = { activity: 'through activity', time: 'as time passed' }

/** What can be asked of people's history, from what they did to what was done to them. */
export const activities: readonly Offered[] = [
  { kind: 'emailOpened', title: 'opened', not: 'did not open', detail: 'email', things: 'emails' },
  { kind: 'emailClicked', title: 'clicked in', not: 'did not click in', detail: 'email', things: 'emails' },
  { kind: 'emailSent', title: 'was sent', not: 'was not sent', detail: 'email', things: 'emails' },
  {
    kind: 'pageVisited',
    title: 'visited the page',
    not: 'did not visit the page',
    detail: 'page',
    things: 'pages',
  },
  {
    kind: 'formSent',
    title: 'submitted the form',
    not: 'did not submit the form',
    detail: 'form',
    things: 'forms',
  },
  {
    kind: 'fileSent',
    title: 'was sent the file',
    not: 'was not sent the file',
    detail: 'file',
    things: 'files',
  },
  { kind: 'fileDownloaded', title: 'downloaded', not: 'did not download', detail: 'file', things: 'files' },
  {
    kind: 'quizFinished',
    title: 'finished the quiz',
    not: 'did not finish the quiz',
    detail: 'quiz',
    things: 'quizzes',
    parts: quizPartsOf,
  },
  {
    kind: 'courseFinished',
    title: 'finished the course',
    not: 'did not finish the course',
    detail: 'course',
    things: 'courses',
  },
  {
    kind: 'quizLeft',
    title: 'left the quiz',
    not: 'did not leave the quiz',
    detail: 'quiz',
    things: 'quizzes',
  },
  {
    kind: 'junctionPassed',
    title: 'was sent on by the junction',
    not: 'was not sent on by the junction',
    detail: 'junction',
    things: 'junctions',
    parts: rulesOf,
  },
  {
    kind: 'productBought',
    title: 'bought',
    not: 'did not buy',
    detail: 'product',
    things: 'products',
    parts: pricesOf,
  },
  {
    kind: 'orderRefunded',
    title: 'got money back for',
    not: 'did not get money back for',
    detail: 'product',
    things: 'products',
    parts: pricesOf,
  },
  {
    kind: 'checkoutLeft',
    title: 'left the checkout of',
    not: 'did not leave the checkout of',
    detail: 'product',
    things: 'products',
  },
  {
    kind: 'sessionRegistered',
    title: 'registered for',
    not: 'did not register for',
    detail: 'session',
    things: 'sessions',
  },
  {
    kind: 'sessionAttended',
    title: 'attended',
    not: 'did not attend',
    detail: 'session',
    things: 'sessions',
  },
  { kind: 'sessionMissed', title: 'missed', not: 'did not miss', detail: 'session', things: 'sessions' },
  {
    kind: 'eventReported',
    title: 'was reported by another program',
    not: 'was not reported by another program',
  },
  {
    kind: 'pointsGiven',
    title: 'was given points in',
    not: 'was not given points in',
    detail: 'scorecard',
    things: 'scorecards',
  },
  { kind: 'deadlineStarted', title: 'got a personal deadline', not: 'did not get a personal deadline' },
  { kind: 'tagAdded', title: 'got the tag', not: 'did not get the tag', detail: 'tag', things: 'tags' },
  { kind: 'tagRemoved', title: 'lost the tag', not: 'did not lose the tag', detail: 'tag', things: 'tags' },
  {
    kind: 'topicJoined',
    title: 'joined the topic',
    not: 'did not join the topic',
    detail: 'topic',
    things: 'topics',
  },
  {
    kind: 'topicLeft',
    title: 'left the topic',
    not: 'did not leave the topic',
    detail: 'topic',
    things: 'topics',
  },
  {
    kind: 'followupStarted',
    title: 'entered the follow-up',
    not: 'did not enter the follow-up',
    detail: 'followup',
    things: 'followups',
  },
  {
    kind: 'followupEnded',
    title: 'left the follow-up',
    not: 'did not leave the follow-up',
    detail: 'followup',
    things: 'followups',
  },
  {
    kind: 'contactAdded',
    title: 'was added',
    not: 'was not added',
    more: {
      detail: 'by',
      label: 'How',
      words: { form: 'by a form', import: 'by an import', hand: 'manually' },
    },
  },
  { kind: 'consentGiven', title: 'gave consent', not: 'did not give consent' },
  { kind: 'addressConfirmed', title: 'confirmed the address', not: 'did not confirm the address' },
  {
    kind: 'confirmationAsked',
    title: 'was asked to confirm the form',
    not: 'was not asked to confirm the form',
    detail: 'form',
    things: 'forms',
  },
  {
    kind: 'messageLeft',
    title: 'wrote to the team',
    not: 'did not write to the team',
    detail: 'form',
    things: 'forms',
  },
  { kind: 'mailPaused', title: 'paused all email', not: 'did not pause email' },
  {
    kind: 'unsubscribed',
    title: 'unsubscribed',
    not: 'did not unsubscribe',
    more: {
      detail: 'by',
      label: 'How',
      words: { person: 'by a link', mailbox: 'in the mailbox', team: 'by the team' },
    },
  },
  {
    kind: 'emailHeld',
    title: 'was left out of',
    not: 'was not left out of',
    detail: 'email',
    things: 'emails',
  },
  {
    kind: 'emailMoved',
    title: 'got later, by the sending rules,',
    not: 'did not get later, by the sending rules,',
    detail: 'email',
    things: 'emails',
  },
  {
    kind: 'emailFailed',
    title: 'could not be reached by',
    not: 'was always reached by',
    detail: 'email',
    things: 'emails',
  },
  {
    kind: 'bandReached',
    title: 'reached a band on',
    not: 'did not reach a band on',
    detail: 'scorecard',
    things: 'scorecards',
    parts: bandsOf,
    more: { detail: 'by', label: 'How', words: inTheCourse },
  },
  {
    kind: 'bandLeft',
    title: 'dropped out of a band on',
    not: 'did not drop out of a band on',
    detail: 'scorecard',
    things: 'scorecards',
    parts: bandsOf,
    more: { detail: 'by', label: 'How', words: inTheCourse },
  },
  { kind: 'contactChanged', title: 'was edited', not: 'was not edited' },
  {
    kind: 'addressTaken',
    title: 'typed another person’s address',
    not: 'did not type another person’s address',
  },
  { kind: 'contactMerged', title: 'was merged with another person', not: 'was not merged' },
]

/** @returns undefined for a kind that nobody asks about, such as the clock of a rehearsal */
export const offered = (kind: ActivityKind): Offered | undefined =>
  activities.find((each) => each.kind === kind)
