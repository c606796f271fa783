import { z } from 'zod'

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

/**
 * The kinds of activity and what each one tells. What conditions can ask about stands in ids, so that
 * renaming a thing changes no history.
 */
export const activityDetails = {
  contactAdded: z.object({ by: z.enum(['form', 'hand', 'import', 'demo']) }),
  contactChanged: z.object({ fields: z.array(z.string()) }),
  consentGiven: z.object({ source: z.string(), topic: id.optional() }),
  formSent: z.object({ page: id, source: source.optional() }),
  tagAdded: z.object({ tag: id, by: z.string() }),
  tagRemoved: z.object({ tag: id, by: z.string() }),
  emailSent: z.object({ email: id, message: id }),
  emailHeld: z.object({ email: id, message: id, reason: z.string() }),
  emailFailed: z.object({ email: id, message: id, reason: z.string() }),
  emailClicked: z.object({ email: id, message: id, link: id }),
  fileDownloaded: z.object({ file: id }),
  unsubscribed: z.object({ by: z.enum(['person', 'mailbox', 'team']), message: id.optional() }),
  followupStarted: z.object({ followup: id, enrolment: id }),
  followupEnded: z.object({ followup: id, enrolment: id }),
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

/** Does the activity have every wanted detail? Values compare by equality. */
export function hasDetails(activity: Activity, wanted: Record<string, unknown>): boolean {
  const details: Record<string, unknown> = activity.details
  return Object.entries(wanted).every(([name, value]) => details[name] === value)
}
