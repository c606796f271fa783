import type { ActivityKind } from './activity.ts'

/** What the parts of the product must know of a kind of activity. */
export interface ActivityTraits {
  /** Where the journal shows it: what people did, mail, decisions of follow-ups, or changes of their data. */
  category: 'did' | 'mail' | 'followup' | 'people'
  /** Follow-ups can start by it. */
  startsFollowups: boolean
  /** It can change who somebody is for a scorecard's profile rules. */
  changesProfile: boolean
  /** Imports write it by themselves: it shows nothing that a person did. */
  writtenByImports: boolean
  /** How points for it are learned: by the kind as a whole, or apart for each thing that a detail names. */
  learnedBy: 'kind' | 'page' | 'session' | 'product' | 'quiz' | null
}

const plain: ActivityTraits = {
  category: 'people',
  startsFollowups: false,
  changesProfile: false,
  writtenByImports: false,
  learnedBy: null,
}
const did: ActivityTraits = { ...plain, category: 'did' }
const mail: ActivityTraits = { ...plain, category: 'mail' }
const changed: ActivityTraits = { ...plain, changesProfile: true }

export const activityTraits: Readonly<Record<ActivityKind, ActivityTraits>> = {
  contactAdded: { ...changed, writtenByImports: true, startsFollowups: true },
  contactChanged: { ...changed, startsFollowups: true },
  contactMerged: changed,
  consentGiven: { ...changed, writtenByImports: true },
  topicJoined: { ...changed, writtenByImports: true, startsFollowups: true },
  topicLeft: { ...changed, startsFollowups: true },
  addressConfirmed: { ...did, startsFollowups: true },
  confirmationAsked: mail,
  addressTaken: did,
  mailPaused: did,
  formSent: { ...did, startsFollowups: true, learnedBy: 'kind' },
  messageLeft: did,
  pageVisited: { ...did, learnedBy: 'page', startsFollowups: true },
  courseFinished: { ...did, startsFollowups: true },
  quizFinished: { ...did, learnedBy: 'quiz', startsFollowups: true },
  quizLeft: { ...did, startsFollowups: true },
  junctionPassed: { ...did, startsFollowups: true },
  productBought: { ...did, learnedBy: 'product', startsFollowups: true },
  orderRefunded: { ...did, startsFollowups: true },
  checkoutLeft: { ...did, startsFollowups: true },
  sessionRegistered: { ...did, startsFollowups: true, learnedBy: 'session' },
  sessionAttended: { ...did, startsFollowups: true, learnedBy: 'session' },
  sessionMissed: { ...did, startsFollowups: true },
  eventReported: { ...did, startsFollowups: true },
  pointsGiven: changed,
  deadlineStarted: { ...plain, category: 'followup' },
  tagAdded: { ...changed, startsFollowups: true, writtenByImports: true },
  tagRemoved: { ...changed, startsFollowups: true },
  emailSent: mail,
  emailHeld: mail,
  emailMoved: mail,
  emailFailed: mail,
  emailOpened: { ...did, learnedBy: 'kind', startsFollowups: true },
  emailClicked: { ...did, learnedBy: 'kind', startsFollowups: true },
  fileSent: mail,
  fileDownloaded: { ...did, learnedBy: 'kind', startsFollowups: true },
  unsubscribed: { ...did, changesProfile: true },
  followupStarted: { ...plain, category: 'followup' },
  followupEnded: { ...plain, category: 'followup' },
  bandReached: { ...plain, writtenByImports: true, startsFollowups: true },
  bandLeft: { ...plain, writtenByImports: true },
  clockMoved: plain,
}

/** The kinds of which something is true, in the order of the table. */
export const kindsWith = (is: (traits: ActivityTraits) => boolean): ActivityKind[] =>
  (Object.keys(activityTraits) as ActivityKind[]).filter((kind) => is(activityTraits[kind]))
