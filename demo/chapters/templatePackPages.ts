import type { Queries } from '../../server/database/connect.ts'
import { business } from '../business.ts'
import { compose } from '../composer.ts'
import { simpleForm } from '../../core/capture/form.ts'
import { createForm, createPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'

const { block, text, section } = compose

export const consentWording =
  'Yes, send me the templates and, now and then, news about bookbinding from Quillfeather Bindery. I can stop it with one click in every email.'

interface Given {
  tag: number
  file: number
  pictures: Pictures | null
}

const thanks = (inFunnel: boolean) => [
  section(
    [
      {
        blocks: [
          block('heading', { level: 1, words: 'Your templates are on their way' }),
          block('list', {
            marker: 'numbers',
            items: [
              `Look for an email from ${business.senderName} with the subject “Your Five-Hole Pamphlet templates”.`,
              'Press the button in it: the file is yours to keep.',
              'Nothing after five minutes? Look in the spam and promotions folders.',
              `So that our email does not land in spam, make ${business.senderAddress} one of your contacts.`,
            ],
          }),
          block('button', {
            label: `Add ${business.senderName} to your contacts`,
            look: 'outlined',
            target: { to: 'path', path: '/contact-card.vcf' },
          }),
          ...(inFunnel
            ? [
                block('button', {
                  label: 'Open the page of your templates',
                  look: 'outlined',
                  target: { to: 'nextStep' },
                }),
              ]
            : []),
        ],
      },
    ],
    { width: 'narrow' },
  ),
  section(
    [
      {
        blocks: [
          block('heading', { words: 'While you wait: why some pages never lie flat' }),
          block('button', {
            label: 'Show me the lesson on paper grain',
            target: { to: 'path', path: '/p/paper-grain' },
          }),
        ],
      },
    ],
    { background: 'tinted', width: 'narrow' },
  ),
]

const landing = ({ pictures }: Given, form: number) => [
  section([
    {
      share: 3,
      blocks: [
        block('heading', { level: 1, words: 'Sew your first pamphlet tonight' }),
        text(
          'Five holes, one thread, ten minutes of folding. The template pack shows you where every hole goes, in three sizes, ready to print at home.',
        ),
        block('list', {
          items: [
            'Piercing templates for A6, A5 and pocket size',
            'Marks you can trust: print at 100 % and pierce',
            'Nothing to buy: paper, a needle and any strong thread will do',
          ],
        }),
      ],
    },
    {
      share: 2,
      blocks: [block('form', { form })],
    },
  ]),
  ...(pictures
    ? [
        section(
          [
            { blocks: [block('picture', { picture: pictures.pamphlet, alt: altOf('pamphlet') })] },
            {
              blocks: [
                block('heading', { words: 'Made at the bench, not at the desk' }),
                text('Every template was pierced, sewn and opened flat before it went into the pack.'),
                block('quotes', {
                  quotes: [
                    {
                      words: 'I had a pamphlet in my hands before the kettle was cold.',
                      name: 'Oona Vellumsby',
                      about: 'sewed her first one in March',
                      picture: null,
                    },
                  ],
                }),
              ],
            },
          ],
          { background: 'tinted' },
        ),
      ]
    : []),
]

const filePage = ({ file, pictures }: Given) => [
  section([
    {
      blocks: [
        block('heading', { level: 1, words: "Here it is, {first name or 'dear bookbinder'}" }),
        text(
          'Print at 100 %, without “fit to page”. The ruler on the first sheet tells you whether it worked.',
        ),
        block('button', { label: 'Download the templates (PDF)', target: { to: 'file', file } }),
        block('questions', {
          items: [
            {
              question: 'The ruler is too short',
              answer: 'Your printer has scaled the page. Choose 100 % and print again.',
            },
            {
              question: 'The button does nothing',
              answer: 'It is made for the link in our email: open the page from there.',
            },
          ],
        }),
      ],
    },
    ...(pictures
      ? [
          {
            blocks: [
              block('picture', { picture: pictures.pamphlet, alt: altOf('pamphlet') }),
              block('button', {
                label: 'And when it is sewn: a whole journal',
                look: 'outlined',
                target: { to: 'nextStep' },
              }),
            ],
          },
        ]
      : []),
  ]),
]

/** Landing page with its form, thank-you page and file page of the template pack. @returns ids of landing page and form */
export async function createPages(
  q: Queries,
  given: Given,
  at: Date,
): Promise<{ page: number; form: number }> {
  const next = await createPage(
    q,
    {
      path: 'template-pack/thanks',
      name: 'Template pack: thank you',
      purpose: 'thankYou',
      title: 'Your templates are on their way',
      // Where the story has funnels, each page leads to the one behind it.
      sections: thanks(given.pictures !== null),
    },
    at,
  )
  await createPage(
    q,
    {
      path: 'template-pack/file',
      name: 'Template pack: the file',
      purpose: 'file',
      title: 'Your Five-Hole Pamphlet templates',
      sections: filePage(given),
    },
    at,
  )
  const form = await createForm(
    q,
    'Template pack',
    simpleForm(
      {
        button: 'Send me the templates',
        privacy: 'We write about twice a month.',
        actions: [{ does: 'addTag', tag: given.tag }],
        after: { then: 'go', target: { to: 'page', page: next } },
      },
      consentWording,
    ),
    at,
  )
  // The stand-in site shows this form: it must know it by the same key every time.
  await q.rows(`update form set key = 'templatepackform' where id = $1`, [form])
  const page = await createPage(
    q,
    {
      path: 'template-pack',
      name: 'Template pack',
      purpose: 'landing',
      title: 'Sew your first pamphlet tonight',
      description: 'Free piercing templates in three sizes, ready to print at home.',
      sections: landing(given, form),
    },
    at,
  )
  return { page, form }
}
