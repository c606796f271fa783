import { DateTime } from 'luxon'
import type { FollowupNumbers } from '../../contract/followups.ts'
import type { Outcome } from '../../core/followups/enrolment.ts'
import type { Platform } from '../platform.ts'
import { followupDrafts } from './followupDrafts.ts'
import { Followup } from './models.ts'

const days = 30
const mostReasons = 5

/** What became of people in a follow-up, by step; nobody in rehearsal counts. @throws Problem 404 */
export async function numbersOf({ database, clock }: Platform, id: number): Promise<FollowupNumbers> {
  await followupDrafts.thing(database, id)
  const followup = await Followup.findByPk(id)
  const zone = followup?.program.zone ?? 'UTC'
  const real = `join contact on contact.id = enrolment.contact_id and not contact.rehearsal where followup_id = $1`
  const [waiting, decided, reasons, mail, arrivals, ends, orders] = await Promise.all([
    database.rows<{ step: string; people: number }>(
      `select step, count(*)::int people from enrolment ${real} and ended_at is null group by 1`,
      [id],
    ),
    database.rows<{ step: string; outcome: Outcome; times: number }>(
      `select decision.step, outcome, count(*)::int times from decision join enrolment on enrolment.id = enrolment_id
       ${real} and decision.step is not null group by 1, 2`,
      [id],
    ),
    database.rows<{ step: string; reason: string; times: number }>(
      // Times and names of the reason aside: what was looked at differs for everybody.
      `select decision.step, regexp_replace(reason, ' \\(.*\\)$', '') reason, count(*)::int times
       from decision join enrolment on enrolment.id = enrolment_id
       ${real} and outcome = 'skipped' group by 1, 2 order by 3 desc limit 200`,
      [id],
    ),
    database.rows<{ step: string; opened: number; clicked: number }>(
      `select message.step, count(opened_at)::int opened, count(clicked_at)::int clicked
       from message join enrolment on enrolment.id = enrolment_id ${real} and message.step is not null group by 1`,
      [id],
    ),
    database.rows<{ day: string; people: number }>(
      `select to_char(started_at at time zone $2, 'YYYY-MM-DD') as day, count(*)::int people
       from enrolment ${real} and started_at > $3 group by 1`,
      [id, zone, new Date(clock.now() - days * 86_400_000)],
    ),
    database.row<{ inside: number; finished: number; completed: number; medianTime: number | null }>(
      `select count(*) filter (where ended_at is null)::int inside,
         count(*) filter (where ended_at is not null)::int finished,
         count(*) filter (where ended_at is not null and exists (select from decision
           where enrolment_id = enrolment.id and outcome = 'left'
             and reason in ('all steps are done', 'the end of this lane')))::int completed,
         percentile_cont(0.5) within group (order by extract(epoch from ended_at - started_at) * 1000)
           filter (where ended_at is not null) "medianTime"
       from enrolment ${real}`,
      [id],
    ),
    database.row<{ people: number }>(
      `select count(distinct enrolment.contact_id)::int people from enrolment
       join activity on activity.contact_id = enrolment.contact_id and activity.kind = 'productBought'
         and activity.at > started_at ${real}`,
      [id],
    ),
  ])
  const counted = new Map(arrivals.map(({ day, people }) => [day, people]))
  const today = DateTime.fromMillis(clock.now(), { zone })
  const steps = new Set([...waiting, ...decided, ...mail].map(({ step }) => step))
  return {
    inside: ends?.inside ?? 0,
    finished: ends?.finished ?? 0,
    completed: ends?.completed ?? 0,
    medianTime: ends?.medianTime ?? null,
    orders: orders?.people ?? 0,
    arrivals: Array.from({ length: days }, (_, i) => {
      const day = today.minus({ days: days - 1 - i }).toFormat('yyyy-MM-dd')
      return { day, people: counted.get(day) ?? 0 }
    }),
    steps: [...steps].map((step) => ({
      step,
      waiting: waiting.find((row) => row.step === step)?.people ?? 0,
      outcomes: Object.fromEntries(
        decided.filter((row) => row.step === step).map(({ outcome, times }) => [outcome, times]),
      ),
      opened: mail.find((row) => row.step === step)?.opened ?? 0,
      clicked: mail.find((row) => row.step === step)?.clicked ?? 0,
      skippedBecause: reasons
        .filter((row) => row.step === step)
        .slice(0, mostReasons)
        .map(({ reason, times }) => ({ reason, times })),
    })),
  }
}
