import { chanceFrom } from '../../core/chance.ts'
import type { Program } from '../../core/followups/program.ts'
import type { NewActivity } from '../../server/audience/people/newActivity.ts'
import { fixedClock } from '../../server/clock.ts'
import { advanceDue } from '../../server/followups/advancing.ts'
import { letIn } from '../../server/followups/entering.ts'
import { lookAtMembers } from '../../server/followups/members.ts'
import { wake } from '../../server/followups/waking.ts'
import type { Platform } from '../../server/platform.ts'

const hour = 3_600_000
const day = 24 * hour
/** The engine looks so often in the story. */
const step = 12 * hour

/** A follow-up of the story with who came into it. */
interface Lived {
  id: number
  cameBy?: { kind: string; details?: Record<string, unknown>; within: number }
  state?: 'paused' | 'closing'
}

/** Lets people in at the moments at which they did what starts a follow-up. */
async function comeIn(platform: Platform, { id, cameBy }: Lived): Promise<void> {
  const { database, clock } = platform
  if (!cameBy) return
  const now = clock.now()
  const people = await database.rows<{ contact: number; at: Date }>(
    `select contact_id contact, min(at) at from activity join contact on contact.id = contact_id and not rehearsal
     where kind = $1 and not details ? 'heldOut' and details @> $2 and at > $3 and at < $4 group by 1 order by 2 desc limit 240`,
    [cameBy.kind, JSON.stringify(cameBy.details ?? {}), new Date(now - cameBy.within * day), new Date(now)],
  )
  await database.inTransaction(async (tx) => {
    const live = await tx.row<{ id: number; program: Program }>(
      'select id, program from followup where id = $1',
      [id],
    )
    if (!live) return
    const entrants = people.map(({ contact, at }) => ({ contact, at: at.getTime() + 1_000 }))
    await letIn(tx, live, entrants, now)
    await lookAtMembers(tx, live, now, { first: true })
  })
}

interface Sent {
  id: number
  contact: number
  email: number
  link: number | null
  at: Date
}

/** What was decided to be sent was sent then, and read as people read. */
async function deliver(
  platform: Platform,
  ids: readonly number[],
  chance: ReturnType<typeof chanceFrom>,
): Promise<void> {
  const { database } = platform
  const sent = await database.rows<Sent>(
    `update message set state = 'sent', sent_at = message.queued_at + interval '2 seconds'
     from enrolment where enrolment.id = enrolment_id and followup_id = any($1) and message.state = 'queued'
     returning message.id, message.contact_id contact, email_id email, message.sent_at at,
       (select min(id) from email_link where email_link.email_id = message.email_id) link`,
    [ids],
  )
  sent.sort((a, b) => a.id - b.id)
  const read = sent.flatMap(({ id: message, contact, email, link, at }): NewActivity[] => {
    const details = { email, message }
    const mail: NewActivity = { contact, kind: 'emailSent', at: at.getTime(), details }
    if (!chance.flip(0.56)) return [mail]
    const openedAt = at.getTime() + 4 * 60_000 + chance.delay(8 * hour)
    const opened: NewActivity = { contact, kind: 'emailOpened', at: openedAt, details }
    if (link === null || !chance.flip(0.3)) return [mail, opened]
    return [
      mail,
      opened,
      { contact, kind: 'emailClicked', at: openedAt + 60_000, details: { ...details, link } },
    ]
  })
  const past = read.filter(({ at }) => at < platform.clock.now())
  await database.inTransaction(async (tx) => {
    await tx.rows(
      `insert into activity (contact_id, kind, details, at)
       select * from unnest($1::bigint[], $2::text[], $3::jsonb[], $4::timestamptz[])`,
      [
        past.map(({ contact }) => contact),
        past.map(({ kind }) => kind),
        past.map(({ details }) => JSON.stringify(details)),
        past.map(({ at }) => new Date(at)),
      ],
    )
    const [opens, clicks] = (['emailOpened', 'emailClicked'] as const).map((kind) =>
      past.filter((each) => each.kind === kind),
    )
    for (const [column, of] of [
      ['opened_at', opens ?? []],
      ['clicked_at', clicks ?? []],
    ] as const)
      await tx.rows(
        `update message set ${column} = t.at from unnest($1::bigint[], $2::timestamptz[]) t (id, at) where message.id = t.id`,
        [
          of.map(({ details }) => ('message' in details ? details.message : 0)),
          of.map(({ at }) => new Date(at)),
        ],
      )
    await wake(tx, past)
  })
}

/** Has people live through the last weeks of follow-ups, by the engine itself, with a clock that goes on by half days. */
export async function liveThrough(
  platform: Platform,
  followups: readonly Lived[],
  seed: number,
): Promise<void> {
  const { database, clock, log } = platform
  const now = clock.now()
  const chance = chanceFrom(seed)
  const ids = followups.map(({ id }) => id)
  for (const each of followups) await comeIn(platform, each)
  const first = await database.row<{ at: Date | null }>(
    'select min(wakes_at) at from enrolment where followup_id = any($1) and ended_at is null',
    [ids],
  )
  for (let at = first?.at?.getTime() ?? now; at < now + step; at += step) {
    const then = { ...platform, clock: fixedClock(Math.min(at, now)), log }
    await advanceDue(then)
    await deliver(platform, ids, chance)
  }
  for (const { id, state } of followups)
    if (state)
      await database.rows('update followup set state = $2, paused_at = $3 where id = $1', [
        id,
        state,
        state === 'paused' ? new Date(now - 2 * day) : null,
      ])
}
