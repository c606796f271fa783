import { z } from 'zod'
import { matchesDetails, type Activity, type ActivityKind } from '../audience/people/activity.ts'

const id = z.number().int().positive()
const name = z.string().trim().min(1).max(80)

/**
 * What somebody does, or what happens to them, that starts a follow-up or ends it. A missing detail means any. Where
 * it is called as an activity is, it is that activity with these details.
 */
export const trigger = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('formSent'), form: id.optional(), page: id.optional() }),
  z.object({ kind: z.literal('addressConfirmed'), form: id.optional() }),
  z.object({ kind: z.literal('tagAdded'), tag: id }),
  z.object({ kind: z.literal('tagRemoved'), tag: id }),
  z.object({ kind: z.literal('topicJoined'), topic: id }),
  z.object({ kind: z.literal('topicLeft'), topic: id }),
  z.object({ kind: z.literal('emailOpened'), email: id }),
  z.object({ kind: z.literal('emailClicked'), email: id.optional(), link: id.optional() }),
  z.object({ kind: z.literal('fileDownloaded'), file: id.optional() }),
  z.object({ kind: z.literal('pageVisited'), page: id }),
  z.object({
    kind: z.literal('quizFinished'),
    quiz: id.optional(),
    result: name.optional(),
    answers: z.array(name).max(1).optional(),
  }),
  z.object({ kind: z.literal('courseFinished'), course: id.optional() }),
  z.object({ kind: z.literal('quizLeft'), quiz: id.optional() }),
  z.object({ kind: z.literal('junctionPassed'), junction: id.optional(), rule: name.optional() }),
  z.object({ kind: z.literal('productBought'), product: id.optional() }),
  z.object({ kind: z.literal('orderRefunded'), product: id.optional() }),
  z.object({ kind: z.literal('checkoutLeft'), product: id.optional() }),
  z.object({ kind: z.literal('sessionRegistered'), session: id.optional() }),
  z.object({ kind: z.literal('sessionAttended'), session: id.optional() }),
  z.object({ kind: z.literal('sessionMissed'), session: id.optional() }),
  /** Reached from below: by points, not by time. */
  z.object({ kind: z.literal('bandReached'), scorecard: id, band: z.string().min(1).max(40) }),
  z.object({ kind: z.literal('fieldChanged'), field: z.union([id, name]) }),
  z.object({ kind: z.literal('imported') }),
  /** What another program reports of somebody, by its own name. */
  z.object({ kind: z.literal('eventReported'), name }),
])
export type Trigger = z.infer<typeof trigger>
export type TriggerKind = Trigger['kind']

/** The activity that a trigger waits for, and what it must tell at least. */
export interface AwaitedActivity {
  kind: ActivityKind
  details: Record<string, unknown>
}

type Awaits<K extends TriggerKind> = (of: Extract<Trigger, { kind: K }>) => AwaitedActivity
/** Called as the activity is, with the same details. */
const itself = ({ kind, ...details }: { kind: TriggerKind & ActivityKind }): AwaitedActivity => ({
  kind,
  details,
})

const awaits: { readonly [K in TriggerKind]: Awaits<K> } = {
  formSent: itself,
  addressConfirmed: itself,
  tagAdded: itself,
  tagRemoved: itself,
  topicJoined: itself,
  topicLeft: itself,
  emailOpened: itself,
  emailClicked: itself,
  fileDownloaded: itself,
  pageVisited: itself,
  quizFinished: itself,
  courseFinished: itself,
  quizLeft: itself,
  junctionPassed: itself,
  productBought: itself,
  orderRefunded: itself,
  checkoutLeft: itself,
  sessionRegistered: itself,
  sessionAttended: itself,
  sessionMissed: itself,
  eventReported: itself,
  bandReached: ({ scorecard, band }) => ({
    kind: 'bandReached',
    details: { scorecard, band, by: 'activity' },
  }),
  fieldChanged: ({ field }) => ({ kind: 'contactChanged', details: { changed: [field] } }),
  imported: () => ({ kind: 'contactAdded', details: { by: 'import' } }),
}

/** What a trigger waits for. */
export const awaitedBy = (of: Trigger): AwaitedActivity => (awaits[of.kind] as Awaits<TriggerKind>)(of)

/** Is this activity what a trigger waits for? */
export function sets(off: Trigger, activity: Activity): boolean {
  const { kind, details } = awaitedBy(off)
  return activity.kind === kind && matchesDetails(activity, details)
}
