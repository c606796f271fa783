import type { Instant } from '../../core/audience/people/activity.ts'
import { dateOf } from '../../core/audience/segments/within.ts'
import { chanceFrom } from '../../core/chance.ts'
import { emailLinks, linkKey, type EmailContent } from '../../core/email/email.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import type { NewActivity } from '../../server/audience/people/activities.ts'
import type { Queries } from '../../server/database/connect.ts'
import { publishNewEmail } from '../../server/email/emails.ts'
import { recipientsOf } from '../../server/email/broadcasts/recipients.ts'
import type { Platform } from '../../server/platform.ts'
import { signInOf } from '../accounts.ts'
import { business } from '../business.ts'
import { compose } from '../composer.ts'
import type { Person } from '../person.ts'
import { createTopic } from './create.ts'
import { letter } from './templatePackEmails.ts'

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

const { block, text } = compose

/** Went out three weeks ago to all who agreed to the letter. */
const flatSpine = letter(
  {
    subject: 'A spine that opens flat, and a question',
    preheader: 'One stitch more, and the book lies still on the table.',
    purpose: 'marketing',
    heading: 'Let it lie flat',
  },
  text(
    'a book that has to be held open is read once. This month I sewed the same notebook twice, with and without a kettle stitch at each end, and left both on the table overnight. Only one was still open in the morning.',
  ),
  block('button', { label: 'See both spines', target: { to: 'path', path: '/p/paper-grain' } }),
  text('And the question: what did you sew last, and for whom? Just reply.'),
)

/** Not sent yet: the one to try a broadcast with. */
const sunday = letter(
  {
    subject: 'Sunday: bring a needle and eight sheets',
    preheader: 'The Stitch-Along begins at six, Dublin time.',
    purpose: 'marketing',
  },
  text(
    'on Sunday Ilse Varga and I sew a small notebook with you, live. You need eight sheets of paper, a needle and an arm’s length of thread. Who has never sewn a book is very welcome.',
  ),
  block('button', { label: 'How to fold the sheets', target: { to: 'path', path: '/p/paper-grain' } }),
)

/** The same email, whose first link does something. */
function withClick(content: EmailContent, action: LinkAction): EmailContent {
  const [first] = emailLinks(content)
  return first ? { ...content, onClick: { [linkKey(first)]: [action] } } : content
}

/** What somebody did with it, as people do: most of it within a day. */
function readingOf(
  chance: ReturnType<typeof chanceFrom>,
  ids: { email: number; message: number; link: number },
  contact: number,
  at: Instant,
): NewActivity[] {
  const { link, ...details } = ids
  if (!chance.flip(0.46)) return []
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

/** Writes the story's letters, one of them sent as a broadcast three weeks ago. */
export async function sendBroadcast(platform: Platform, { topics }: Letter, seed: number): Promise<void> {
  const now = platform.clock.now()
  const sentAt = now - 21 * day
  const chance = chanceFrom(seed)
  await platform.database.inTransaction(async (tx) => {
    const doing = { by: signInOf.name, at: new Date(sentAt - day) }
    const email = await publishNewEmail(
      tx,
      { name: 'Bindery letter: let it lie flat', content: flatSpine },
      doing,
    )
    await publishNewEmail(
      tx,
      { name: 'Sunday, live', content: withClick(sunday, { does: 'joinTopic', topic: topics.sessions }) },
      { ...doing, at: new Date(now - 2 * day) },
    )
    const link = await tx.row<{ id: number }>('select id from email_link where email_id = $1', [email.id])
    if (!link) throw new Error('the letter leads nowhere')
    const here = {
      kind: 'created',
      within: { kind: 'between', from: '2000-01-01', to: dateOf(sentAt, business.zone) },
    } as const
    const who = { search: '', tree: here, rehearsal: 'no' } as const
    const topic = topics.letter
    const { recipients, leftOut } = await recipientsOf(
      tx,
      { who, email: email.id, topic, againOf: null },
      sentAt,
    )
    const agreed = await tx.rows<{ id: number }>(
      `select contact_id id from contact_topic where contact_id = any($1) and topic_id = $2 and at < $3 order by 1`,
      [recipients, topic, new Date(sentAt)],
    )
    const gets = agreed.length
    // Who has agreed since then had not yet.
    const left = leftOut.map((each) =>
      each.reason.includes('topic') ? { ...each, people: each.people + recipients.length - gets } : each,
    )

    const work = await tx.row<{ id: number }>(
      `insert into long_work (kind, title, payload, state, result, created_at, ended_at)
       values ('broadcast', $1, '{}', 'done', $2, $3, $3) returning id`,
      [
        `Send “${email.name}” to ${gets} people`,
        JSON.stringify({ said: `It goes out to ${gets} people.` }),
        new Date(sentAt),
      ],
    )
    const broadcast = await tx.row<{ id: number }>(
      `insert into broadcast (email_id, topic_id, sentence, by, work_id, left_out, created_at, goes_at, prepare_at)
       values ($1, $2, 'everybody', $3, $4, $5, $6, $6, $6) returning id`,
      [email.id, topic, signInOf.name, work?.id, JSON.stringify(left), new Date(sentAt)],
    )
    await tx.rows('insert into broadcast_variant (broadcast_id, number, email_id) values ($1, 1, $2)', [
      broadcast?.id,
      email.id,
    ])
    const messages = await tx.rows<{ id: number; contact: number }>(
      `insert into message (email_id, contact_id, broadcast_id, variant, topic_id, purpose, state, queued_at, sent_at, attempts)
       select $1, contact, $2, 1, $3, 'marketing', 'sent', $4::timestamptz, $4::timestamptz + n * interval '40 milliseconds', 1
       from unnest($5::bigint[]) with ordinality t (contact, n) returning id, contact_id contact`,
      [email.id, broadcast?.id, topic, new Date(sentAt), agreed.map(({ id }) => id)],
    )
    const activities = messages.flatMap(({ id: message, contact }, n): NewActivity[] => {
      const at = sentAt + n * 40
      const ids = { email: email.id, message }
      return [
        { contact, kind: 'emailSent', at, details: { ...ids, broadcast: broadcast?.id ?? 0 } },
        ...readingOf(chance, { ...ids, link: link.id }, contact, at).filter((each) => each.at < now),
      ]
    })
    await storeActivities(tx, activities)
    // What was opened and clicked in the story counts once, as from now on.
    await tx.rows(
      `update message set opened_at = seen.opened, clicked_at = seen.clicked
       from (select (details->>'message')::bigint message, min(at) filter (where kind = 'emailOpened') opened,
           min(at) filter (where kind = 'emailClicked') clicked
         from activity where kind in ('emailOpened', 'emailClicked') group by 1) seen
       where message.id = seen.message`,
    )
  })
}
