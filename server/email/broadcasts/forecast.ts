import type { BroadcastForecast, BroadcastRequest, SampleReader } from '../../../contract/broadcasts.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
import { parseLine, templateFields } from '../../../core/email/merge.ts'
import { firstInstantOf, isZone } from '../../../core/followups/waiting.ts'
import { allSteps } from '../../../core/followups/step.ts'
import { type Program } from '../../../core/followups/program.ts'
import { sendsAfter } from '../../../core/followups/track.ts'
import { loadMergeFields } from '../../blocks/mergeFields.ts'
import { createBinds } from '../../database/binds.ts'
import type { Queries } from '../../database/connect.ts'
import { getBusiness } from '../../workspace/business.ts'
import { plannedMoments, wallOf } from './moments.ts'
import { recipientsOf, type Recipients } from './recipients.ts'

const hour = 3_600_000

/** How many of these people wait in a follow-up that may email them within an hour of a moment. */
async function emailedSoon(q: Queries, recipients: Recipients, at: Instant): Promise<number> {
  const followups = await q.rows<{ id: number; program: Program }>(
    `select id, program from followup where state in ('live', 'closing')`,
  )
  const waits = followups.flatMap(({ id, program }) =>
    allSteps(program.steps)
      .filter((step) => step.kind === 'waitFor' && sendsAfter(program, step.id).length > 0)
      .map((step) => ({ followup: id, step: step.id })),
  )
  if (waits.length === 0) return 0
  const binds = createBinds()
  const ids = await recipients.idsSql(binds)
  const [followup, step] = [
    binds.add(waits.map((wait) => wait.followup)),
    binds.add(waits.map((wait) => wait.step)),
  ]
  const [from, to] = [binds.add(new Date(at - hour)), binds.add(new Date(at + hour))]
  const found = await q.row<{ count: number }>(
    `select count(distinct contact_id)::int count from enrolment
     join unnest(${followup}::bigint[], ${step}::text[]) wait (followup, step)
       on followup_id = wait.followup and enrolment.step = wait.step
     where ended_at is null and set_aside_at is null and wakes_at between ${from} and ${to}
       and contact_id in (${ids})`,
    binds.values,
  )
  return found?.count ?? 0
}

/** For how many the local time has passed where they are. */
async function alreadyPast(
  q: Queries,
  recipients: Recipients,
  { moment }: BroadcastRequest,
  zone: string,
  now: Instant,
): Promise<number> {
  if (moment.when === 'now' || !moment.readerZone) return 0
  const wall = wallOf(moment.local)
  const binds = createBinds()
  const zones = await q.rows<{ zone: string | null; people: number }>(
    `select zone, count(*)::int people from contact where id in (${await recipients.idsSql(binds)}) group by zone`,
    binds.values,
  )
  return zones
    .filter((each) => firstInstantOf(wall, each.zone && isZone(each.zone) ? each.zone : zone) <= now)
    .reduce((sum, each) => sum + each.people, 0)
}

/** Fewer emails than that tell nothing of how many are opened. */
const fewest = 200

/** Of a hundred emails that broadcasts sent in the last year, how many were opened. */
async function usualOpenRate(q: Queries, now: Instant): Promise<number | null> {
  const found = await q.row<{ sent: number; opened: number }>(
    `select count(*)::int sent, count(opened_at)::int opened
     from (select opened_at from message where broadcast_id is not null and state = 'sent' and sent_at > $1
       order by sent_at desc limit 20000) recent`,
    [new Date(now - 365 * 24 * hour)],
  )
  return found && found.sent >= fewest ? found.opened / found.sent : null
}

/**
 * Who would get a broadcast now, who would not, and what else comes to them.
 * @throws Problem 409 when nobody can tell who is meant, 422 when its moment has passed
 */
export async function forecastBroadcast(
  q: Queries,
  request: BroadcastRequest,
  now: Instant,
): Promise<BroadcastForecast> {
  const { zone } = await getBusiness(q)
  const { goesAt } = plannedMoments(request.moment, zone, now)
  const recipients = await recipientsOf(q, { ...request, againOf: null }, now)
  const { gets, leftOut } = recipients
  return {
    gets,
    leftOut,
    soon: await emailedSoon(q, recipients, goesAt),
    past: await alreadyPast(q, recipients, request, zone, now),
    openRate: await usualOpenRate(q, now),
  }
}

/** So many are shown of those who would get it. */
const sampled = 10

/** Some of those who would get a broadcast, with the subject as they will read it. */
export async function sampleRecipients(
  q: Queries,
  request: BroadcastRequest,
  now: Instant,
): Promise<SampleReader[]> {
  const recipients = await recipientsOf(q, { ...request, againOf: null }, now)
  const binds = createBinds()
  const readers = await q.rows<{
    id: number
    firstName: string
    lastName: string
    address: string
    zone: string | null
    fields: Record<number, FieldValue>
  }>(
    `select id, first_name "firstName", last_name "lastName", address, zone, fields from contact
     where id in (${await recipients.idsSql(binds)}) order by random() limit ${sampled}`,
    binds.values,
  )
  const email = await q.row<{ subject: string }>(
    `select subject_template subject from email_version join email on email.id = email_id
     where email_id = $1 and number = published_version`,
    [request.email],
  )
  const business = await getBusiness(q)
  const subject = parseLine(email?.subject ?? '')
  const mergeFields = await loadMergeFields(q)
  return readers.map(({ id, firstName, lastName, address, zone, fields }) => ({
    id,
    name: `${firstName} ${lastName}`.trim(),
    address,
    subject: subject({
      person: { first_name: firstName, last_name: lastName, address },
      business: { name: business.name, postal_address: business.postalAddress, zone: business.zone },
      ...templateFields(mergeFields, { builtIn: zone === null ? {} : { zone }, own: fields }),
      base_url: '',
      links: [],
      shows: [],
      unsubscribe_url: '',
      preferences_url: '',
      open_url: '',
    }),
  }))
}
