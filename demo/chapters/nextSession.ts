import { DateTime } from 'luxon'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { EmailContent } from '../../core/email/email.ts'
import type { Doing } from '../../server/blocks/drafts.ts'
import { createDetail } from '../../server/blocks/sharedDetails.ts'
import type { Queries } from '../../server/database/connect.ts'
import { createNamedLink } from '../../server/email/namedLinks.ts'
import { business } from '../business.ts'
import { compose } from '../composer.ts'
import { letter } from './templatePackEmails.ts'

const { block, text } = compose

/** What the letter about the next session rests on. */
interface Session {
  /** When it is (ISO 8601). */
  at: string
  /** The shared detail that is its picture. */
  picture: number
  /** The named link by which one keeps a place. */
  place: number
}

/** Not sent yet: the one to try a broadcast with. */
export const sunday = ({ at, picture, place }: Session): EmailContent =>
  letter(
    {
      subject: 'Sunday: bring a needle and eight sheets',
      preheader: 'The Stitch-Along begins at {stitch-along as time}.',
      purpose: 'marketing',
    },
    text(
      'on {stitch-along as weekday} {guest} and I sew a small notebook with you, live. You need eight sheets of paper, a needle and an arm’s length of thread. Who has never sewn a book is very welcome.',
    ),
    block('picture', { detail: picture, alt: 'a bench with books by a window', size: 'half' }),
    block('button', { label: 'How to fold the sheets', target: { to: 'path', path: '/p/paper-grain' } }),
    block('sessionCard', {
      title: 'Sunday Stitch-Along',
      at,
      words: 'One notebook, from the first hole to the last knot.',
      label: 'Keep me a place',
      target: { to: 'link', link: place },
    }),
    block('countdown', { words: 'We begin in', until: at }),
  )

/** What several emails and pages say of the next session, and who else writes. */
export async function makeSession(tx: Queries, topic: number, now: Instant, doing: Doing): Promise<Session> {
  const today = DateTime.fromMillis(now, { zone: business.zone }).startOf('day')
  const begins = today.plus({ days: 7 - (today.weekday % 7), hours: 18 })
  const local = begins.toFormat("yyyy-MM-dd'T'HH:mm")
  await createDetail(tx, { name: 'guest', content: { kind: 'text', text: 'Ilse Varga' } }, doing)
  await createDetail(
    tx,
    { name: 'stitch-along', content: { kind: 'moment', local, zone: business.zone } },
    doing,
  )
  const picture = await tx.row<{ id: number; alt: string }>(
    `select id, alt from picture where name = 'Atelier in autumn'`,
  )
  if (!picture) throw new Error('the story has no picture of the bench')
  const content = { kind: 'picture', picture: picture.id, alt: picture.alt } as const
  const place = await createNamedLink(
    tx,
    {
      name: 'Keep me a place',
      target: { to: 'path', path: '/p/template-pack/thanks' },
      actions: [{ does: 'joinTopic', topic }],
    },
    doing,
  )
  await tx.rows(
    `insert into sender (name, address, address_key, asked_at, confirmed_at, created_at)
     values ('Ilse Varga', 'ilse@quillfeather.example', 'ilse@quillfeather.example', $1, $1, $1),
       ('Quillfeather workshop', 'workshop@quillfeather.example', 'workshop@quillfeather.example', $1, null, $1)`,
    [doing.at],
  )
  return {
    at: begins.toUTC().toISO() ?? '',
    picture: await createDetail(tx, { name: 'picture of the season', content }, doing),
    place,
  }
}
