import { z } from 'zod'
import { storedAnswers } from '../../core/capture/answers.ts'
import type { Queries } from '../database/connect.ts'

const id = z.number().int().positive()

/** The jobs that wait in the queue, and what each is told. */
export const jobPayloads = {
  startFollowups: z.object({
    contact: id,
    /** The activity's own id: it starts a follow-up once, however often the job runs. */
    activity: id,
    kind: z.string(),
    details: z.record(z.string(), z.unknown()),
    at: z.number(),
  }),
  scorePeople: z.object({ contacts: z.array(id) }),
  sendConfirmation: z.object({ confirmation: id }),
  sendFile: z.object({ contact: id, file: id }),
  previewFile: z.object({ file: id, version: id }),
  notifyTeam: z.object({
    contact: id,
    form: id,
    version: id,
    /** Where the form stood, in words. */
    place: z.string(),
    answers: storedAnswers,
  }),
  /** A step of a follow-up, a quiz or an order has something to say to the team. */
  tellTeam: z.object({
    contact: id,
    followup: id.optional(),
    quiz: id.optional(),
    order: id.optional(),
    words: z.string(),
  }),
  takePayment: z.object({ payment: id }),
  makeRefund: z.object({ refund: id }),
  sendReceipt: z.object({ order: id }),
  /** Somebody asks for their way into the buyers’ area, or to the page at that path. */
  sendBuyerLink: z.object({ contact: id, to: z.string() }),
  /** A later payment failed: its buyer is asked for another card. */
  askForCard: z.object({ payment: id }),
  /** A subscription costs something else from a day on. */
  tellPrice: z.object({ order: id, before: z.string(), after: z.string(), from: z.number() }),
  callWebhook: z.object({
    contact: id,
    followup: id,
    enrolment: id,
    step: z.string(),
    url: z.string(),
    at: z.number(),
  }),
  sendAddressConfirmation: z.object({ change: id }),
  sendSenderConfirmation: z.object({ sender: id }),
  sendTest: z.object({ email: id, version: id, account: id, person: id.nullable() }),
  renewEmails: z.object({}),
  longWork: z.object({ work: id, queue: z.string() }),
  countSegments: z.object({}),
  lookForStarts: z.object({}).loose(),
  checkFunnels: z.object({}).loose(),
  remindWaiting: z.object({}).loose(),
  maintenance: z.object({}).loose(),
} as const

export type JobName = keyof typeof jobPayloads
export type JobPayload<N extends JobName> = z.infer<(typeof jobPayloads)[N]>

/** So many jobs that score people run at once: fewer than half of a worker's places. */
const scoringLanes = 3

interface JobTraits<Payload> {
  /** The key by which a job that waits can be found again: asking for it once more makes no second one. */
  key: ((payload: Payload) => string) | null
  /**
   * Jobs of one queue run one after the other. Long work and scoring have queues, so that they never fill all places
   * of a worker: mail and follow-ups go on beside them.
   */
  queue: ((payload: Payload) => string) | null
  /** What somebody waits for in front of a page comes before all else. */
  isWaitedFor: boolean
}

const plain = { key: null, queue: null, isWaitedFor: false }

const jobTraits: { readonly [N in JobName]: JobTraits<JobPayload<N>> } = {
  startFollowups: plain,
  scorePeople: { ...plain, queue: ({ contacts }) => `scoring ${(contacts[0] ?? 0) % scoringLanes}` },
  sendConfirmation: plain,
  sendFile: plain,
  // One after the other: a tool may take much memory.
  previewFile: { ...plain, queue: () => 'previews' },
  notifyTeam: plain,
  tellTeam: plain,
  takePayment: { ...plain, isWaitedFor: true },
  makeRefund: plain,
  sendReceipt: plain,
  sendBuyerLink: plain,
  tellPrice: plain,
  askForCard: plain,
  // A server that does not answer holds up no other job.
  callWebhook: { ...plain, queue: ({ url }) => `webhooks ${new URL(url).host}` },
  sendAddressConfirmation: plain,
  sendSenderConfirmation: plain,
  sendTest: plain,
  // Who changes the brand twice gets the templates of the second.
  renewEmails: { ...plain, key: () => 'renewEmails' },
  longWork: { ...plain, queue: ({ queue }) => queue },
  // Who asks while it waits is served by the same count.
  countSegments: { ...plain, key: () => 'countSegments' },
  // Who changes a segment twice is served by the same look.
  lookForStarts: { ...plain, key: () => 'lookForStarts' },
  // Who changes several things at once is served by one look.
  checkFunnels: { ...plain, key: () => 'checkFunnels' },
  remindWaiting: plain,
  maintenance: plain,
}

/** A job to be queued. */
export type NewJob = { [N in JobName]: { name: N; payload: JobPayload<N> } }[JobName]

function specOf<N extends JobName>(name: N, payload: JobPayload<N>): object {
  const { key, queue, isWaitedFor } = jobTraits[name]
  return {
    identifier: name,
    payload,
    job_key: key?.(payload) ?? null,
    queue_name: queue?.(payload) ?? null,
    // The smallest is done first.
    priority: isWaitedFor ? -1 : 0,
  }
}

/** A query that puts jobs into the queue, to stand in another statement. @param bind the parameter that holds `jobs` */
export const queueing = (bind: string, jobs: readonly NewJob[]): { sql: string; jobs: string } => ({
  sql: `select count(*) from graphile_worker.add_jobs(
    array(select json_populate_record(null::graphile_worker.job_spec, spec) from json_array_elements(${bind}::json) spec))`,
  jobs: JSON.stringify(jobs.map(({ name, payload }) => specOf(name, payload))),
})

/**
 * Puts jobs into the queue, in the transaction of `q`: they begin when it commits, or never.
 * One statement for all of them: 60,000 a second instead of 700 one by one.
 */
export async function queueAll(q: Queries, jobs: readonly NewJob[]): Promise<void> {
  if (jobs.length === 0) return
  const query = queueing('$1', jobs)
  await q.prepared.rows(query.sql, [query.jobs])
}

/** The same for jobs of one kind. */
export async function queueJobs<N extends JobName>(
  q: Queries,
  name: N,
  payloads: readonly JobPayload<N>[],
): Promise<void> {
  await queueAll(
    q,
    payloads.map((payload) => ({ name, payload }) as NewJob),
  )
}
