import type { Brand } from '../../core/pages/brand.ts'
import type { Queries } from '../../server/database/connect.ts'
import { setBrand, setSiteSettings } from '../../server/pages/site.ts'
import { siteSettings } from '../../core/pages/site.ts'
import { business } from '../business.ts'
import { compose } from '../composer.ts'
import { simpleForm } from '../../core/capture/form.ts'
import { createForm, createPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'

const { block, text, section } = compose

/** The pages that belong to no free thing. */
export interface SitePages {
  journal: number
  atelier: number
  terms: number
}

const brandOf = (logo: number, legal: { privacy: number; imprint: number }): Brand => ({
  logo,
  colours: {
    background: '#FFFDFB',
    tint: '#F6EAF0',
    text: '#2B1B2E',
    accent: '#7A2048',
    onAccent: '#FFFFFF',
  },
  headings: 'fraunces',
  body: 'figtree',
  corner: 16,
  width: 1080,
  header: { links: [] },
  footer: {
    words: 'Hand bookbinding, taught by post and by screen.',
    links: [
      { label: 'Privacy', target: { to: 'page', page: legal.privacy } },
      { label: 'Imprint', target: { to: 'page', page: legal.imprint } },
    ],
  },
})

const narrow = { width: 'narrow' } as const

async function createLegalPages(q: Queries, at: Date): Promise<{ privacy: number; imprint: number }> {
  const privacy = await createPage(
    q,
    {
      path: 'privacy',
      name: 'Privacy',
      purpose: 'legal',
      title: 'Privacy',
      description: 'What we keep of you, and how to have it deleted.',
      sections: [
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, words: 'Privacy' }),
                text(
                  'We keep your name, your address and what you agreed to, so that we can send you what you asked for.',
                  'We count how often our pages are seen, without cookies and without knowing who you are.',
                  'Every email of ours has a link with which you stop it, and one with which you are forgotten.',
                ),
              ],
            },
          ],
          narrow,
        ),
      ],
    },
    at,
  )
  const imprint = await createPage(
    q,
    {
      path: 'imprint',
      name: 'Imprint',
      purpose: 'legal',
      title: 'Imprint',
      description: 'Who is behind Quillfeather Bindery.',
      sections: [
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, words: 'Imprint' }),
                text(`${business.name}, ${business.postalAddress}`, `Write to ${business.senderAddress}.`),
              ],
            },
          ],
          narrow,
        ),
      ],
    },
    at,
  )
  return { privacy, imprint }
}

const createTerms = (q: Queries, at: Date): Promise<number> =>
  createPage(
    q,
    {
      path: 'terms',
      name: 'Terms',
      purpose: 'legal',
      title: 'Terms',
      description: 'What holds when you buy from us.',
      sections: [
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, words: 'Terms' }),
                text(
                  'Prices are in euros, with the VAT of your country in them.',
                  'Courses and files are yours as soon as they are paid. What is posted leaves us within three days.',
                  'If something is not for you, write to us within 30 days: you get your money back.',
                ),
              ],
            },
          ],
          narrow,
        ),
      ],
    },
    at,
  )

const journalSections = ({ journal }: Pictures, course: number) => [
  section([
    {
      share: 5,
      blocks: [
        block('heading', { level: 1, words: 'Bind your first journal' }),
        text(
          'Six evenings, one sewn and covered journal that opens flat and stays whole. You need a table, an awl and a bone folder.',
        ),
        block('list', {
          items: [
            'Six lessons of forty minutes',
            'Patterns for two sizes',
            'An answer to every question, by Mara',
          ],
        }),
      ],
    },
    { share: 4, blocks: [block('picture', { picture: journal, alt: altOf('journal') })] },
  ]),
  section(
    [
      {
        blocks: [
          block('priceCard', {
            name: 'The whole course',
            price: '€79',
            points: ['All six lessons, for as long as you like', 'Patterns and list of tools'],
            label: 'Begin now',
            target: { to: 'product', product: course },
            note: 'Prices with VAT.',
          }),
        ],
      },
      {
        blocks: [
          block('priceCard', {
            name: 'In three parts',
            price: '3 × €29',
            points: ['The same course', 'One part a month'],
            label: 'Begin in parts',
            target: { to: 'product', product: course },
            note: 'Prices with VAT.',
          }),
        ],
      },
    ],
    { background: 'tinted' },
  ),
  section(
    [
      {
        blocks: [
          block('heading', { words: 'What people ask before' }),
          block('questions', {
            items: [
              { question: 'I have never sewn anything', answer: 'Good: there is nothing to unlearn.' },
              {
                question: 'Which paper do I need?',
                answer: 'Any that you like to write on. Lesson one shows how to fold it.',
              },
              { question: 'Is there a date?', answer: 'No. Begin when you like.' },
            ],
          }),
        ],
      },
    ],
    narrow,
  ),
]

const atelierSections = ({ atelier }: Pictures, form: number) => [
  section([
    {
      share: 3,
      blocks: [
        block('heading', { level: 1, words: 'Autumn Atelier' }),
        text('Four Saturdays, eight people, one leather-bound book each. Places open on a single day.'),
        block('countdown', {
          until: '2027-03-01T09:00:00.000Z',
          words: 'Places open in',
          after: 'Places are open now.',
        }),
        block('form', { form, guidance: 'Choose what comes after the form.' }),
      ],
    },
    { share: 2, blocks: [block('picture', { picture: atelier, alt: altOf('atelier') })] },
  ]),
]

/** The brand, the legal pages, the sales page, and a waiting page that is not finished. */
export async function make(
  q: Queries,
  { pictures, course }: { pictures: Pictures; course: number },
  at: Date,
): Promise<SitePages> {
  const legal = await createLegalPages(q, at)
  const terms = await createTerms(q, at)
  await setBrand(q, brandOf(pictures.logo, legal))
  await setSiteSettings(
    q,
    siteSettings.parse({
      privacyPage: legal.privacy,
      sharingPicture: pictures.pamphlet,
      videoHosts: ['films.quillfeather.example'],
    }),
  )
  const waitingList = await createForm(
    q,
    'Autumn Atelier waiting list',
    simpleForm(
      { button: 'Put me on the list' },
      'Yes, write to me when places open. I can stop it with one click in every email.',
    ),
    at,
  )
  return {
    terms,
    journal: await createPage(
      q,
      {
        path: 'first-journal',
        name: 'Bind Your First Journal',
        purpose: 'sales',
        title: 'Bind your first journal',
        description: 'Six evenings, one sewn and covered journal that opens flat.',
        sections: journalSections(pictures, course),
      },
      at,
    ),
    atelier: await createPage(
      q,
      {
        path: 'autumn-atelier',
        name: 'Autumn Atelier',
        purpose: 'landing',
        title: 'Autumn Atelier',
        draft: true,
        sections: atelierSections(pictures, waitingList),
      },
      at,
    ),
  }
}
