import type { Instant } from '../../core/audience/people/activity.ts'
import { dateOf } from '../../core/audience/segments/within.ts'
import { DateTime } from 'luxon'
import { chanceFrom, type Chance } from '../../core/chance.ts'
import { emailLinks, linkKey, type EmailContent } from '../../core/email/email.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import type { NewActivity } from '../../server/audience/people/newActivity.ts'
import type { Queries } from '../../server/database/connect.ts'
import { publishNewEmail } from '../../server/email/emails.ts'
import { startBroadcast } from '../../server/email/broadcasts/starting.ts'
import { recipientIds, recipientsOf } from '../../server/email/broadcasts/recipients.ts'
import type { Platform } from '../../server/platform.ts'
import { signInOf } from '../accounts.ts'
import { business } from '../business.ts'
import type { Person } from '../person.ts'
import { createTopic } from './create.ts'
import { issues, nextIssue, type Issue } from './letterIssues.ts'
import { makeSession, sunday } from './nextSession.ts'

const hour = 3_600_000
const day = 24 * hour

/** What people can agree to be written about. */
export interface Letter {
  topics: { letter: number; sessions: number }
}

export const make = async (q: Queries, at: Date): Promise<Letter> => ({
  topics: {
    letter: await createTopic(q, 'Bindery letter', 'Once a month: a technique, a book, a question.', at),
    sessions: await createTopic(q, 'Session news', 'When the next live session is.', at),
  },
})

/** Agrees to one topic, to both or to none. */
export function live(person: Person, { topics }: Letter): void {
  const { chance } = person
  for (const [topic, share] of [
    [topics.letter, 0.5],
    [topics.sessions, 0.2],
  ] as const)
    if (person.marketing === 'subscribed' && chance.flip(share)) {
      const at = person.arrival + chance.delay(5 * day)
      if (person.did({ kind: 'topicJoined', at, details: { topic, by: 'preferences page' } }))
        person.topics.push({ topic, at })
    }
}

/** The same email, whose first link does something. */
function withClick(content: EmailContent, action: LinkAction): EmailContent {
  const [first] = emailLinks(content)
  return first ? { ...content, onClick: { [linkKey(first)]: [action] } } : content
}

/** What somebody did with it, as people do: most of it within a day. */
function readingOf(
  chance: Chance,
  ids: { email: number; message: number; link: number },
  { contact, at, opens }: { contact: number; at: Instant; opens: number },
): NewActivity[] {
  const { link, ...details } = ids
  if (!chance.flip(opens)) return []
  const opened = at + chance.delay(9 * hour)
  const done: NewActivity[] = [{ contact, kind: 'emailOpened', at: opened, details }]
  if (chance.flip(0.22))
    done.push({ contact, kind: 'emailClicked', at: opened + 40_000, details: { ...details, link } })
  return done
}

/** Stores activities of the past: nothing starts or is scored by them. */
async function storeActivities(q: Queries, activities: readonly NewActivity[]): Promise<void> {
  await q.rows(
    `insert into activity (contact_id, kind, details, at)
     select contact, kind, details, to_timestamp(at / 1000.0)
     from json_to_recordset($1::json) t (contact bigint, kind text, details jsonb, at double precision)`,
    [JSON.stringify(activities)],
  )
}

/** The first Sundays of months, ten in the morning at the bindery: so many months after the present one. */
function firstSunday(now: Instant, months: number): Instant {
  const first = DateTime.fromMillis(now, { zone: business.zone }).startOf('month').plus({ months })
  return first.plus({ days: (7 - first.weekday) % 7, hours: 10 }).toMillis()
}

/** Who was on the list by then and had agreed to the letter; and who had not, as it was told. */
async function readersAt(tx: Queries, email: number, topic: number, sentAt: Instant) {
  const here = {
    kind: 'created',
    within: { kind: 'between', from: '2000-01-01', to: dateOf(sentAt, business.zone) },
  } as const
  const who = { search: '', tree: here, rehearsal: 'no' } as const
  const found = await recipientsOf(tx, { who, email, topic, againOf: null }, sentAt)
  const recipients = await recipientIds(tx, found)
  const agreed = await tx.rows<{ id: number }>(
    `select contact_id id from contact_topic where contact_id = any($1) and topic_id = $2 and at < $3 order by 1`,
    [recipients, topic, new Date(sentAt)],
  )
  const gets = agreed.length
  // Who has agreed since then had not yet.
  const left = found.leftOut.map((each) =>
    each.reason.includes('topic') ? { ...each, people: each.people + recipients.length - gets } : each,
  )
  return { readers: agreed.map(({ id }) => id), left }
}

/** A broadcast of the past that went to so many. */
async function storeBroadcast(
  tx: Queries,
  {
    email,
    topic,
    sentAt,
    gets,
    left,
  }: { email: Email; topic: number; sentAt: Instant; gets: number; left: object },
): Promise<number> {
  const work = await tx.row<{ id: number }>(
    `insert into long_work (kind, title, payload, state, result, created_at, ended_at)
     values ('broadcast', $1, '{}', 'done', $2, $3, $3) returning id`,
    [
      `Send “${email.name}” to ${gets} people`,
      JSON.stringify({ said: `Queued for ${gets} people.` }),
      new Date(sentAt),
    ],
  )
  const broadcast = await tx.row<{ id: number }>(
    `insert into broadcast (email_id, topic_id, sentence, by, work_id, left_out, created_at, goes_at, prepare_at)
     values ($1, $2, 'everybody', $3, $4, $5, $6, $6, $6) returning id`,
    [email.id, topic, signInOf.name, work?.id, JSON.stringify(left), new Date(sentAt)],
  )
  const id = broadcast?.id ?? 0
  await tx.rows('insert into broadcast_variant (broadcast_id, number, email_id) values ($1, 1, $2)', [
    id,
    email.id,
  ])
  return id
}

interface Email {
  id: number
  name: string
}

/** So many of a hundred of the readers of a split test get its versions; the second is opened more. */
const tested = { share: 50, opens: [0.38, 0.5] } as const

/** Sends a letter of the past, with all that its readers did. */
async function sendIssue(
  tx: Queries,
  { name, content, otherSubject }: Issue,
  { topic, sentAt, now, chance }: { topic: number; sentAt: Instant; now: Instant; chance: Chance },
): Promise<void> {
  const email = await publishNewEmail(
    tx,
    { name, content },
    { by: signInOf.name, at: new Date(sentAt - day) },
  )
  const link = await tx.row<{ id: number }>('select id from email_link where email_id = $1', [email.id])
  if (!link) throw new Error('the letter leads nowhere')
  const { readers, left } = await readersAt(tx, email.id, topic, sentAt)
  const broadcast = await storeBroadcast(tx, { email, topic, sentAt, gets: readers.length, left })
  const decidedAt = sentAt + 4 * hour
  if (otherSubject !== undefined) {
    await tx.rows(
      'insert into broadcast_variant (broadcast_id, number, email_id, subject) values ($1, 2, $2, $3)',
      [broadcast, email.id, otherSubject],
    )
    await tx.rows(
      `update broadcast set test_share = $2, test_by = 'opens', decide_at = $3, decides_itself = true, winner = 2,
         decided_by = 'Nurtel' where id = $1`,
      [broadcast, tested.share, new Date(decidedAt)],
    )
  }
  const testSize = Math.round((readers.length * tested.share) / 100)
  const plans = readers.map((contact, n) => {
    if (otherSubject === undefined) return { contact, variant: 1, at: sentAt + n * 40, opens: 0.46 }
    const variant = n < testSize ? (n % 2) + 1 : 2
    return {
      contact,
      variant,
      at: (n < testSize ? sentAt : decidedAt) + n * 40,
      opens: tested.opens[variant - 1] ?? 0,
    }
  })
  const messages = await tx.rows<{ id: number }>(
    `insert into message (email_id, email_version, contact_id, broadcast_id, variant, tested, topic_id, purpose, state,
       queued_at, sent_at, attempts)
     select $1, 1, contact, $2, variant, $8 and n <= $9, $3, 'marketing', 'sent', $4, at, 1
     from unnest($5::bigint[], $6::smallint[], $7::timestamptz[]) with ordinality t (contact, variant, at, n)
     order by n returning id`,
    [
      email.id,
      broadcast,
      topic,
      new Date(sentAt),
      plans.map(({ contact }) => contact),
      plans.map(({ variant }) => variant),
      plans.map(({ at }) => new Date(at)),
      otherSubject !== undefined,
      testSize,
    ],
  )
  const activities = plans.flatMap((plan, n): NewActivity[] => {
    const ids = { email: email.id, message: messages[n]?.id ?? 0 }
    const { contact, at } = plan
    return [
      { contact, kind: 'emailSent', at, details: { ...ids, broadcast } },
      ...readingOf(chance, { ...ids, link: link.id }, plan).filter((each) => each.at < now),
    ]
  })
  await storeActivities(tx, activities)
}

/** Writes the story's letters: those of the last months with what their readers did, and the next one, which is planned. */
export async function sendLetters(platform: Platform, { topics }: Letter, seed: number): Promise<void> {
  const now = platform.clock.now()
  const chance = chanceFrom(seed)
  const last = firstSunday(now, 0) < now - day ? 0 : -1
  await platform.database.inTransaction(async (tx) => {
    for (const [n, issue] of issues.entries())
      await sendIssue(tx, issue, { topic: topics.letter, sentAt: firstSunday(now, last - n), now, chance })
    const sent = { by: signInOf.name, at: new Date(now - 2 * day) }
    const session = await makeSession(tx, topics.sessions, now, sent)
    const content = withClick(sunday(session), { does: 'joinTopic', topic: topics.sessions })
    await publishNewEmail(tx, { name: 'Sunday, live', content }, sent)
    // What was opened and clicked in the story counts once, as from now on.
    await tx.rows(
      `update message set opened_at = seen.opened, clicked_at = seen.clicked,
         device = (array['phone', 'computer', 'phone', 'computer', 'phone', 'tablet', 'computer'])[message.id % 7 + 1]
       from (select (details->>'message')::bigint message, min(at) filter (where kind = 'emailOpened') opened,
           min(at) filter (where kind = 'emailClicked') clicked
         from activity where kind in ('emailOpened', 'emailClicked') group by 1) seen
       where message.id = seen.message`,
    )
    const { id } = await publishNewEmail(tx, nextIssue, sent)
    await tx.rows('update email set topic_id = $2 where id = $1', [id, topics.letter])
  })
  await planNext(platform, topics.letter, firstSunday(now, last + 1))
}

async function planNext(platform: Platform, topic: number, at: Instant): Promise<void> {
  const email = await platform.database.row<{ id: number }>('select id from email where name = $1', [
    nextIssue.name,
  ])
  const local = DateTime.fromMillis(at, { zone: business.zone }).toFormat("yyyy-MM-dd'T'HH:mm")
  await startBroadcast(
    platform,
    {
      who: { search: '', tree: null, rehearsal: 'no' },
      email: email?.id ?? 0,
      topic,
      moment: { when: 'at', local, readerZone: true },
      test: null,
    },
    { by: signInOf.name },
  )
}
