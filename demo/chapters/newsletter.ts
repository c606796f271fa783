import { chanceFrom, type Chance } from '../../core/chance.ts'
import { simpleForm } from '../../core/capture/form.ts'
import { confirmForm } from '../../server/capture/confirming.ts'
import { formVersion, type PublishedForm } from '../../server/capture/publishedForms.ts'
import { takeForms, type Sending } from '../../server/capture/takeForms.ts'
import { fixedClock } from '../../server/clock.ts'
import type { Queries } from '../../server/database/connect.ts'
import type { Platform } from '../../server/platform.ts'
import { domains, firstNames, lastNames } from '../cast.ts'
import { compose } from '../composer.ts'
import { createForm, createPage, createTag } from './create.ts'

const { block, text, section } = compose
const [minute, hour, day] = [60_000, 3_600_000, 86_400_000]

/** The letter's own page, whose form is confirmed by a click in an email. */
export interface Newsletter {
  page: number
  form: number
}

const narrow = { width: 'narrow' } as const

/** @param letter the topic that it signs up for */
export async function make(q: Queries, letter: number, at: Date): Promise<Newsletter> {
  const waitingTag = await createTag(q, 'Waiting for confirmation', 'Has not confirmed the address yet', at)
  const confirmedTag = await createTag(q, 'Bindery letter', 'Confirmed the address for the letter', at)
  const confirmed = await createPage(
    q,
    {
      path: 'letter/confirmed',
      name: 'Bindery letter: confirmed',
      purpose: 'confirm',
      title: 'You are on the list',
      sections: [
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, words: "Thank you, {first name or 'dear bookbinder'}" }),
                text(
                  'The next letter comes on the first Sunday of the month. Until then: sew something small.',
                ),
                block('button', {
                  label: 'Show me the free templates',
                  target: { to: 'path', path: '/p/template-pack' },
                }),
              ],
            },
          ],
          narrow,
        ),
      ],
    },
    at,
  )
  const form = await createForm(
    q,
    'Bindery letter',
    simpleForm(
      {
        title: 'One letter a month',
        button: 'Send me the letter',
        privacy: 'Two questions, and nothing else. Your address stays with us.',
        confirm: {
          when: 'always',
          waitingTag,
          confirmedTag,
          remind: true,
          letter: {
            subject: 'One click, and the letter comes',
            words: 'You asked for the Bindery letter: a technique, a book and a question, once a month.',
            button: 'Yes, send it to me',
          },
          waiting: {
            title: 'Nearly there',
            words:
              'We have sent you an email with the subject “One click, and the letter comes”. Press its button, and you are on the list.',
          },
          next: { to: 'page', page: confirmed },
        },
      },
      'Yes, send me the Bindery letter once a month. I can stop it with one click in every letter.',
    ),
    at,
  )
  // The consent signs up for the letter.
  await q.rows(
    `update form_version set content = jsonb_set(content, '{steps,0,fields,2,topics}', to_jsonb(array[$2::bigint]))
     where form_id = $1`,
    [form, letter],
  )
  const page = await createPage(
    q,
    {
      path: 'letter',
      name: 'Bindery letter',
      purpose: 'landing',
      title: 'The Bindery letter',
      description: 'A technique, a book and a question, once a month.',
      sections: [
        section([
          {
            share: 3,
            blocks: [
              block('heading', { level: 1, words: 'A technique, a book and a question' }),
              text('Once a month, on a Sunday, from our bench to yours. It takes five minutes to read.'),
            ],
          },
          { share: 2, blocks: [block('form', { form })] },
        ]),
      ],
    },
    at,
  )
  return { page, form }
}

/** How long ago people signed up, and how long they took to confirm (ms); who never did waits or is forgotten. */
function* signUps(chance: Chance): Generator<{ ago: number; confirmsAfter: number | null }> {
  for (let i = 0; i < 38; i += 1)
    yield {
      ago: day + chance.below(25 * day),
      confirmsAfter: chance.flip(0.8) ? minute + chance.delay(25 * minute) : hour + chance.delay(9 * hour),
    }
  // Asked within the week: they may still do it.
  for (let i = 0; i < 12; i += 1) yield { ago: 20 * minute + chance.below(6 * day), confirmsAfter: null }
  // Their link has expired, and they are not forgotten yet.
  for (let i = 0; i < 10; i += 1) yield { ago: 8 * day + chance.below(20 * day), confirmsAfter: null }
}

function sendingOf(form: PublishedForm, page: number, chance: Chance, number: number): Sending {
  const [firstName, lastName] = [chance.pick(firstNames), chance.pick(lastNames)]
  const address = `${firstName}.${lastName}.letter${number}@${chance.weighted(domains)}`.toLowerCase()
  const source = chance.weighted([
    [{}, 3],
    [{ utm_source: 'shelf-pictures', utm_medium: 'social' }, 4],
    [{ utm_source: 'makers-letter', utm_medium: 'email' }, 3],
  ] as const)
  return {
    form,
    place: { name: 'Bindery letter', page, pageVersion: 1 },
    answers: { address: { shown: address, key: address }, firstName, own: {}, agreed: ['consent'] },
    source,
    ip: null,
    token: `demo-letter-${number}`,
    country: null,
    proven: false,
  }
}

/** Sixty people on their way to the letter, in every state; four more were forgotten before. */
export async function signPeopleUp(
  platform: Platform,
  { page, form: id }: Newsletter,
  seed: number,
): Promise<void> {
  const { database, clock, signer } = platform
  const now = clock.now()
  const chance = chanceFrom(seed)
  const form = await formVersion(database, id, 1)
  if (!form) throw new Error('the letter has no form')
  const people = [...signUps(chance)].sort((a, b) => b.ago - a.ago)
  for (const [i, { ago, confirmsAfter }] of people.entries()) {
    const sending = sendingOf(form, page, chance, i + 1)
    await takeForms({ ...platform, clock: fixedClock(now - ago) }, [sending])
    if (confirmsAfter === null) continue
    const asked = await database.row<{ id: number }>('select id from confirmation where token = $1', [
      sending.token,
    ])
    const then = fixedClock(Math.min(now, now - ago + confirmsAfter))
    await confirmForm({ ...platform, clock: then }, signer.sign('confirm', [asked?.id ?? 0]), null)
  }
  // The emails of all but the last days went out long ago.
  await database.rows(
    `delete from graphile_worker._private_jobs where payload->>'confirmation' in
       (select id::text from confirmation where confirmed_at is not null or asked_at < $1)`,
    [new Date(now - hour)],
  )
  await database.rows(
    `insert into confirmation_forgotten (form_id, source, day, people) values ($1, 'shelf-pictures', $2, 4)`,
    [id, new Date(now - 40 * day)],
  )
}
