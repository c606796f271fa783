import { z } from 'zod'
import type { NamedKind } from '../segments/names.ts'

/** Milliseconds since 1970-01-01T00:00Z. Core works with these; the zone comes from the rule that needs one. */
export type Instant = number

const id = z.number().int().positive()

/** Where a visit came from, as its address said (the five UTM values are a common practice). */
export const source = z.object({
  utm_source: z.string().max(200).optional(),
  utm_medium: z.string().max(200).optional(),
  utm_campaign: z.string().max(200).optional(),
  utm_term: z.string().max(200).optional(),
  utm_content: z.string().max(200).optional(),
})
export type Source = z.infer<typeof source>
export const sourceName = source.keyof()

const bought = z.object({
  product: id,
  price: z.string().optional(),
  amount: z.number().int(),
  currency: z.string(),
  order: id.optional(),
})

/**
 * The kinds of activity and what each one tells. What conditions can ask about stands in ids, so that
 * renaming a thing changes no history.
 */
export const activityDetails = {
  contactAdded: z.object({ by: z.enum(['form', 'order', 'hand', 'import', 'demo']), import: id.optional() }),
  contactChanged: z.object({
    fields: z.array(z.string()),
    /** The same as rules name them: own fields by id, the others by what they are called in the schema. */
    changed: z.array(z.union([id, z.string()])).optional(),
    by: z.string().optional(),
  }),
  contactMerged: z.object({ address: z.string(), by: z.string() }),
  consentGiven: z.object({ source: z.string(), topic: id.optional() }),
  topicJoined: z.object({ topic: id, by: z.string() }),
  topicLeft: z.object({ topic: id, by: z.string() }),
  addressConfirmed: z.object({ by: z.string(), form: id.optional() }),
  /** A form named somebody who must say yes by email first: nothing else goes out before they do. */
  confirmationAsked: z.object({ form: id, page: id.optional() }),
  /** They asked to be written to at an address that belongs to somebody else on the list. */
  addressTaken: z.object({ address: z.string() }),
  mailPaused: z.object({ until: z.string() }),
  formSent: z.object({
    form: id,
    /** Where it stood: a page of ours, or another site. */
    page: id.optional(),
    site: z.string().optional(),
    popUp: id.optional(),
    source: source.optional(),
  }),
  /** Somebody wrote a few words to the team. */
  messageLeft: z.object({ form: id, words: z.string() }),
  pageVisited: z.object({ page: id }),
  /** They have seen the last lesson of a course, and all others before. */
  courseFinished: z.object({ course: id }),
  quizFinished: z.object({
    quiz: id,
    /** Ids of its result and of the answers that were given. */
    result: z.string(),
    answers: z.array(z.string()).optional(),
  }),
  /** Somebody began a quiz and did not go on: so many questions were to go. */
  quizLeft: z.object({ quiz: id, toGo: z.number().int() }),
  /** A junction sent them on: by which rule, where to, and the values that decided. */
  junctionPassed: z.object({ junction: id, rule: z.string(), to: z.string(), why: z.string() }),
  /** Something of an order was paid: what, at which of its prices, and for how much (minor units). */
  productBought: bought,
  orderRefunded: bought,
  /** They typed their address where something is bought, and did not buy it. */
  /** Who is held out gets no email about it. */
  checkoutLeft: z.object({ product: id.optional(), cart: id.optional(), heldOut: z.boolean().optional() }),
  sessionRegistered: z.object({ session: id }),
  sessionAttended: z.object({ session: id }),
  sessionMissed: z.object({ session: id }),
  /** Another program reported it. */
  eventReported: z.object({ name: z.string() }),
  /** A follow-up gave them, beside what the rules of the scorecard give. */
  pointsGiven: z.object({ scorecard: id, points: z.number(), by: z.string() }),
  deadlineStarted: z.object({ offer: z.string(), endsAt: z.string(), by: z.string() }),
  tagAdded: z.object({ tag: id, by: z.string() }),
  tagRemoved: z.object({ tag: id, by: z.string() }),
  emailSent: z.object({ email: id, message: id, broadcast: id.optional() }),
  emailHeld: z.object({ email: id, message: id, reason: z.string() }),
  /** It comes later than it was due: so the sending rules have it. */
  emailMoved: z.object({ email: id, message: id, until: z.string(), reason: z.string() }),
  emailFailed: z.object({ email: id, message: id, reason: z.string() }),
  emailOpened: z.object({ email: id, message: id }),
  emailClicked: z.object({ email: id, message: id, link: id }),
  fileSent: z.object({ file: id }),
  fileDownloaded: z.object({ file: id }),
  unsubscribed: z.object({
    by: z.enum(['person', 'mailbox', 'team']),
    message: id.optional(),
    import: id.optional(),
  }),
  followupStarted: z.object({ followup: id, enrolment: id, by: z.string().optional() }),
  followupEnded: z.object({ followup: id, enrolment: id }),
  bandReached: z.object({
    scorecard: id,
    band: z.string(),
    /** What the band was called then; the other one by its name alone. */
    name: z.string(),
    from: z.string(),
    by: z.enum(['activity', 'time']),
  }),
  bandLeft: z.object({
    scorecard: id,
    band: z.string(),
    name: z.string(),
    to: z.string(),
    by: z.enum(['activity', 'time']),
  }),
  clockMoved: z.object({ to: z.string() }),
} as const

export type ActivityKind = keyof typeof activityDetails
export type ActivityDetails<K extends ActivityKind = ActivityKind> = z.infer<(typeof activityDetails)[K]>

export const activityKind = z.enum(Object.keys(activityDetails) as [ActivityKind, ...ActivityKind[]])

/** One thing that a person did or that was done to them. */
export interface Activity<K extends ActivityKind = ActivityKind> {
  kind: K
  at: Instant
  details: ActivityDetails<K>
}

/** Details that a question or a rule asks for, by name. */
export const askedDetails = z
  .record(
    z
      .string()
      .regex(/^[a-z][A-Za-z]*$/)
      .max(40),
    z.union([z.string().max(300), z.number(), z.boolean(), z.array(z.string().max(300)).max(10)]),
  )
  .refine((details) => Object.keys(details).length <= 10, 'At most ten details')

export type AskedDetails = z.infer<typeof askedDetails>

/** The details that name a thing by its id, and the kind of that thing. */
export const detailKinds: Readonly<Record<string, NamedKind>> = {
  email: 'emails',
  link: 'links',
  page: 'pages',
  form: 'forms',
  file: 'files',
  tag: 'tags',
  topic: 'topics',
  product: 'products',
  quiz: 'quizzes',
  course: 'courses',
  session: 'sessions',
  junction: 'junctions',
  followup: 'followups',
  scorecard: 'scorecards',
  field: 'fields',
  segment: 'segments',
}

/** Does the activity have every wanted detail? Values compare by equality; a wanted list must be among those told. */
export function matchesDetails(activity: Activity, wanted: Record<string, unknown>): boolean {
  const details: Record<string, unknown> = activity.details
  return Object.entries(wanted).every(([name, value]) => {
    const told = details[name]
    return Array.isArray(value) && Array.isArray(told)
      ? value.every((each) => told.includes(each))
      : told === value
  })
}
