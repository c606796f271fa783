import { DateTime } from 'luxon'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { missingIn } from '../../core/audience/segments/references.ts'
import type { Program } from '../../core/followups/program.ts'
import type { DateComes } from '../../core/followups/start.ts'
import { conditionSql } from '../audience/segments/conditionSql.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import { createBinds } from '../database/binds.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { letIn } from './entering.ts'

/** A follow-up that is live, or about to be. */
interface Live {
  id: number
  program: Program
}

/** People let in in one go, of those who are found at once. */
const batch = 2_000

async function letInMany(
  q: Queries,
  live: Live,
  contacts: readonly number[],
  now: Instant,
  occasion?: string,
): Promise<number> {
  let entered = 0
  for (let from = 0; from < contacts.length; from += batch) {
    const some = contacts
      .slice(from, from + batch)
      .map((contact) => ({ contact, ...(occasion !== undefined && { occasion }) }))
    entered += (await letIn(q, live, some, now)).enrolments.length
  }
  return entered
}

/**
 * Looks who has come into the segments that start a follow-up since the last look, in one statement a segment, and lets
 * them in. The first look only remembers who belongs to them.
 * @returns how many came in
 */
export async function lookAtMembers(
  q: Queries,
  live: Live,
  now: Instant,
  { first }: { first: boolean } = { first: false },
): Promise<number> {
  let entered = 0
  for (const rule of live.program.startsWhen) {
    if (rule.kind !== 'segmentEntered') continue
    const tree: Condition = { kind: 'segment', segment: rule.segment }
    const context = await loadContext(q, [tree])
    if (missingIn(tree, context.names).length > 0) continue
    const binds = createBinds()
    const where = conditionSql(tree, { ...context, now }, binds)
    const [followup, segment] = [binds.add(live.id), binds.add(rule.segment)]
    const fresh = await q.rows<{ contact: number }>(
      `with members as (select c.id from contact c where ${where}),
       gone as (delete from followup_member where followup_id = ${followup} and segment_id = ${segment}
         and not exists (select from members where members.id = contact_id)),
       fresh as (insert into followup_member (followup_id, segment_id, contact_id)
         select ${followup}, ${segment}, id from members on conflict do nothing returning contact_id)
       select contact_id contact from fresh order by 1`,
      binds.values,
    )
    if (!first)
      entered += await letInMany(
        q,
        live,
        fresh.map(({ contact }) => contact),
        now,
      )
  }
  return entered
}

const isoDate = (at: DateTime): string => at.toFormat('yyyy-MM-dd')

/**
 * Lets in those whose date comes today, each once for each coming. Who was born on 29 February has the 28th in common
 * years. A worker that was away makes up for yesterday.
 * @param only somebody in rehearsal, whose clock is ahead by so many milliseconds
 */
async function lookAtDates(
  q: Queries,
  live: Live,
  rule: DateComes,
  now: Instant,
  only?: { contact: number; ahead: number },
): Promise<number> {
  let entered = 0
  for (const back of [1, 0]) {
    const shown = now + (only?.ahead ?? 0)
    const today = DateTime.fromMillis(shown, { zone: live.program.zone }).minus({ days: back })
    if (back === 0 && today.toFormat('HH:mm') < rule.time) continue
    const date = rule.side === 'before' ? today.plus({ days: rule.days }) : today.minus({ days: rule.days })
    const isLastOfFebruary = date.month === 2 && date.day === 28 && !date.isInLeapYear
    const wanted =
      rule.every === 'once'
        ? [isoDate(date)]
        : [date.toFormat('%-MM-dd'), ...(isLastOfFebruary ? ['%-02-29'] : [])]
    const occasion = `date ${rule.field} ${rule.side} ${rule.days} ${isoDate(date)}`
    const people = await q.rows<{ id: number }>(
      // Dates are stored as in ISO 8601: what comes to the end of the text is month and day.
      `select id from contact where fields->>($1::text) like any($2) and fields->>($1::text) <= $3
         and not exists (select from enrolment where contact_id = contact.id and followup_id = $4 and occasion = $5)
         ${only ? 'and id = $6' : ''} order by id`,
      [String(rule.field), wanted, isoDate(date), live.id, occasion, ...(only ? [only.contact] : [])],
    )
    entered += await letInMany(
      q,
      live,
      people.map(({ id }) => id),
      now,
      occasion,
    )
  }
  return entered
}

/**
 * Lets somebody in rehearsal into the live follow-ups that start by a date of theirs, on their own clock.
 * @returns how many they came into
 */
export async function lookAtDatesOf(
  q: Queries,
  only: { contact: number; ahead: number },
  now: Instant,
): Promise<number> {
  const live = await q.rows<Live>(
    `select id, program from followup where state = 'live'
       and jsonb_path_exists(program, '$.startsWhen[*] ? (@.kind == "dateComes")') order by id`,
  )
  let entered = 0
  for (const each of live)
    for (const rule of each.program.startsWhen)
      if (rule.kind === 'dateComes') entered += await lookAtDates(q, each, rule, now, only)
  return entered
}

/**
 * Looks for those who come into live follow-ups by themselves, because they belong to a segment now or a date of theirs
 * has come: the work of the job `lookForStarts`, every quarter of an hour, and when a segment was changed.
 */
export async function lookForStarts({ database, clock }: Platform): Promise<void> {
  const live = await database.rows<Live>(
    `select id, program from followup where state = 'live'
       and jsonb_path_exists(program, '$.startsWhen[*] ? (@.kind == "segmentEntered" || @.kind == "dateComes")')
     order by id`,
  )
  for (const { id } of live)
    await database.inTransaction(async (tx) => {
      // Two workers do not look at the same one.
      const held = await tx.row<Live>(
        `select id, program from followup where id = $1 and state = 'live' for no key update skip locked`,
        [id],
      )
      if (!held) return
      const now = clock.now()
      let entered = await lookAtMembers(tx, held, now)
      for (const rule of held.program.startsWhen)
        if (rule.kind === 'dateComes') entered += await lookAtDates(tx, held, rule, now)
      if (entered > 0) await announce(tx, 'followups', 'audience')
    })
}
