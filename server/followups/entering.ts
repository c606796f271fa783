import type { Instant } from '../../core/audience/people/activity.ts'
import { evaluate } from '../../core/audience/segments/evaluate.ts'
import { enrol } from '../../core/followups/advance.ts'
import type { Program } from '../../core/followups/program.ts'
import { mayEnter, mostEntriesADay, type Earlier } from '../../core/followups/starting.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import type { ClaimedEnrolment } from './claimedEnrolment.ts'
import { loadFacts } from './facts.ts'

const day = 86_400_000

/** Somebody who is about to come into a follow-up. */
export interface Entrant {
  contact: number
  /** The activity by which they come in: it lets them in once, however often it is looked at. */
  activity?: number
  /** Which coming of a date it is. */
  occasion?: string
  /** The session that it spoke of. */
  session?: number | null
  /** Who let them in by hand, or what did. */
  by?: string
  /** The moment of their start, on their own clock; now when missing. */
  at?: Instant
}

interface Known {
  id: number
  clockAhead: number
  earlier: Earlier[]
  today: number
}

/** Somebody who was turned away, and why. */
export interface TurnedAway {
  contact: number
  reason: string
}

/** What came of letting people in. */
export interface Entered {
  enrolments: ClaimedEnrolment[]
  turnedAway: TurnedAway[]
}

async function knownOf(
  q: Queries,
  followup: number,
  contacts: readonly number[],
  now: Instant,
): Promise<Map<number, Known>> {
  const rows = await q.rows<Known>(
    `select id, clock_ahead "clockAhead",
       coalesce((select json_agg(json_build_object('ended', ended_at is not null,
         'startedAt', floor(extract(epoch from started_at) * 1000)))
         from enrolment where contact_id = contact.id and followup_id = $2), '[]') earlier,
       (select count(*)::int from enrolment where contact_id = contact.id
         and started_at > $3::timestamptz + clock_ahead * interval '1 millisecond') today
     from contact where id = any($1) order by id for no key update`,
    [contacts, followup, new Date(now - day)],
  )
  return new Map(rows.map((row) => [row.id, row]))
}

/** Who of them is as the follow-up wants people to be. */
async function fitting(
  q: Queries,
  program: Program,
  entrants: readonly Entrant[],
  now: Instant,
): Promise<Map<number, string>> {
  const { entryCondition, zone } = program
  const wrong = new Map<number, string>()
  if (!entryCondition) return wrong
  const facts = await loadFacts(
    q,
    [program],
    entrants.map(({ contact }) => contact),
  )
  for (const { contact, at = now } of entrants) {
    const about = facts.get(contact)
    const answer = about && evaluate(entryCondition, about.person, { ...about.context, zone, now: at })
    if (answer?.holds !== true) wrong.set(contact, answer?.reason ?? 'nobody knows them')
  }
  return wrong
}

/**
 * Lets people into a follow-up, in the transaction of `q`, in a few statements however many they are. They stand before
 * its first step, due at once: whoever calls may advance them, or leave that to a worker.
 * @param now the business's time
 */
export async function letIn(
  q: Queries,
  { id: followup, program }: { id: number; program: Program },
  entrants: readonly Entrant[],
  now: Instant,
): Promise<Entered> {
  const turnedAway: TurnedAway[] = []
  if (entrants.length === 0) return { enrolments: [], turnedAway }
  const known = await knownOf(
    q,
    followup,
    entrants.map(({ contact }) => contact),
    now,
  )
  const wrong = await fitting(q, program, entrants, now)
  const coming = entrants.flatMap((entrant) => {
    const person = known.get(entrant.contact)
    if (!person) return []
    const at = entrant.at ?? now + person.clockAhead
    const may = mayEnter(program, person.earlier, at)
    const reason = !may.allowed
      ? may.reason
      : person.today >= mostEntriesADay
        ? `came into ${person.today} follow-ups within a day: what starts them may go in a circle`
        : wrong.get(entrant.contact)
    if (reason !== undefined) {
      turnedAway.push({ contact: entrant.contact, reason })
      return []
    }
    // Who is named twice comes in once, unless people come in every time.
    person.earlier.push({ startedAt: at, ended: false })
    person.today += 1
    return [{ ...entrant, at, clockAhead: person.clockAhead }]
  })
  const stored = await q.rows<{ id: number; n: number }>(
    `with coming as (select * from unnest($2::bigint[], $3::timestamptz[], $4::timestamptz[], $5::bigint[], $6::text[],
         $7::bigint[]) with ordinality t (contact, started, wakes, activity, occasion, session, n)),
       stored as (insert into enrolment (followup_id, contact_id, started_at, wakes_at, activity_id, occasion, session_id, step)
         select $1, contact, started, wakes, activity, occasion, session, $8 from coming order by n
         on conflict do nothing returning id, contact_id, started_at)
     select stored.id, min(n) n from stored join coming on contact = contact_id and started = started_at group by 1`,
    [
      followup,
      coming.map(({ contact }) => contact),
      coming.map(({ at }) => new Date(at)),
      coming.map(({ at, clockAhead }) => new Date(at - clockAhead)),
      coming.map(({ activity }) => activity ?? null),
      coming.map(({ occasion }) => occasion ?? null),
      coming.map(({ session }) => session ?? null),
      program.steps[0]?.id ?? null,
    ],
  )
  const enrolments = stored.flatMap(({ id, n }): ClaimedEnrolment[] => {
    const entrant = coming[n - 1]
    if (!entrant) return []
    const { contact, clockAhead, session } = entrant
    return [
      {
        ...enrol(program, entrant.at),
        id,
        followup,
        contact,
        clockAhead,
        session: session ?? null,
        sent: [],
      },
    ]
  })
  await recordActivities(
    q,
    stored.flatMap(({ id, n }) => {
      const entrant = coming[n - 1]
      if (!entrant) return []
      const { contact, at, by } = entrant
      const details = { followup, enrolment: id, ...(by !== undefined && { by }) }
      return [{ contact, kind: 'followupStarted' as const, at, details }]
    }),
  )
  return { enrolments, turnedAway }
}
