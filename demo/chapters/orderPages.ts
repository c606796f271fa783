import type { Queries } from '../../server/database/connect.ts'
import { compose } from '../composer.ts'
import { createPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'
import type { ProductKey } from './products.ts'

const { block, text, section } = compose
const narrow = { width: 'narrow' } as const

/** Where things of the story are bought. */
export interface OrderPages {
  guide: number
  course: number
  circle: number
  /** Where who has bought the course arrives. */
  thanks: number
}

const trust = 'Your card details go to the card service alone; we never see them.'

const heading = (words: string) => block('heading', { level: 1, words })

function salesSections({ pamphlet }: Pictures, guide: number) {
  return [
    section([
      {
        share: 4,
        blocks: [
          heading('Which thread for which book?'),
          text(
            'Thirty pages for the bench: what each thread is for, how to wax it, and which needle goes with it. €7, as a PDF.',
          ),
          block('button', { label: 'Get the Field Guide', target: { to: 'product', product: guide } }),
        ],
      },
      { share: 3, blocks: [block('picture', { picture: pamphlet, alt: altOf('pamphlet') })] },
    ]),
  ]
}

interface Offers {
  pictures: Pictures
  products: Record<ProductKey, number>
  thanks: number
}

/** What is offered to who has just bought the course. */
const workshopPage = ({ pictures, products, thanks }: Offers) => ({
  path: 'first-journal/workshop',
  name: 'First Journal: one more offer',
  title: 'One afternoon with leather',
  sections: [
    section([
      {
        share: 4,
        blocks: [
          heading('One more thing, now that you are in'),
          text(
            'An afternoon at the bench in Dublin: a leather case for the journal that you are about to sew.',
          ),
          block('nextOffer', {
            offer: { product: products.workshop, price: null },
            label: 'Yes, keep me a place',
            decline: 'No, thank you',
            yes: { to: 'page', page: thanks },
          }),
        ],
      },
      { share: 3, blocks: [block('picture', { picture: pictures.caseBound, alt: altOf('caseBound') })] },
    ]),
  ],
})

/** What is offered to who did not want that. */
const templatesPage = ({ products }: Offers) => ({
  path: 'first-journal/templates',
  name: 'First Journal: smaller offer',
  title: 'The templates alone',
  sections: [
    section(
      [
        {
          blocks: [
            heading('Or the templates, to do it at home'),
            text(
              'Printable templates for cases of three sizes, with the same cuts that we make at the bench.',
            ),
            block('nextOffer', {
              offer: { product: products.templates, price: null },
              label: 'Yes, add the templates',
              decline: 'No, on to my course',
            }),
          ],
        },
      ],
      narrow,
    ),
  ],
})

function thanksSections(title: string, words: string, next: string) {
  return [
    section(
      [{ blocks: [heading(title), block('purchase', { greeting: 'Thank you', words }), text(next)] }],
      narrow,
    ),
  ]
}

/** The pages around the two things that are sold most: what is told, the order, and the thanks. */
export async function make(
  q: Queries,
  { pictures, products, terms }: { pictures: Pictures; products: Record<ProductKey, number>; terms: number },
  at: Date,
): Promise<OrderPages> {
  const offer = (product: number) => ({ product, price: null })
  await createPage(
    q,
    {
      path: 'field-guide',
      name: 'Field Guide',
      purpose: 'sales',
      title: 'Thread & Needle Field Guide',
      description: 'What each thread is for, and which needle goes with it.',
      sections: salesSections(pictures, products.guide),
    },
    at,
  )
  const guide = await createPage(
    q,
    {
      path: 'field-guide/order',
      name: 'Field Guide: order',
      purpose: 'order',
      title: 'Your Field Guide',
      sections: [
        section(
          [
            {
              blocks: [
                heading('Your Field Guide'),
                block('orderForm', {
                  offers: [offer(products.guide)],
                  country: true,
                  label: 'Pay €7',
                  trust,
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
  await createPage(
    q,
    {
      path: 'field-guide/thanks',
      name: 'Field Guide: thanks',
      purpose: 'thankYou',
      title: 'Thank you',
      sections: thanksSections(
        'Off to the bench with it',
        'The guide is in your mailbox, and here.',
        'Print pages four and five: they belong over the bench.',
      ),
    },
    at,
  )
  const course = await createPage(
    q,
    {
      path: 'first-journal/order',
      name: 'First Journal: order',
      purpose: 'order',
      title: 'Bind your first journal',
      sections: [
        section([
          {
            share: 4,
            blocks: [
              heading('Your place at the bench'),
              block('orderForm', {
                offers: [offer(products.course)],
                extra: offer(products.cards),
                extraWords:
                  'Most first journals go wrong at the grain. The cards lie beside you while you fold.',
                country: true,
                vatNumber: true,
                coupon: true,
                terms: 'I agree to the terms, and that the course begins at once.',
                termsPage: terms,
                consent: 'Send me the Bindery letter too. I can stop it with one click in every email.',
                label: 'Begin the course',
                trust,
              }),
            ],
          },
          {
            share: 3,
            blocks: [
              block('picture', { picture: pictures.journal, alt: altOf('journal') }),
              block('list', {
                items: [
                  'Six lessons, for as long as you like',
                  'Patterns for two sizes',
                  'Your money back within 30 days',
                ],
              }),
            ],
          },
        ]),
      ],
    },
    at,
  )
  const thanks = await createPage(
    q,
    {
      path: 'first-journal/thanks',
      name: 'First Journal: thanks',
      purpose: 'thankYou',
      title: 'Welcome to the bench',
      sections: thanksSections(
        'Welcome to the bench',
        'Lesson one is waiting for you.',
        'Find a table that may get glue on it, and put your phone in another room.',
      ),
    },
    at,
  )
  const offers = { pictures, products, thanks }
  await createPage(q, { ...workshopPage(offers), purpose: 'upsell' }, at)
  await createPage(q, { ...templatesPage(offers), purpose: 'downsell' }, at)
  const circle = await createPage(
    q,
    {
      path: 'bindery-circle/begin',
      name: 'Bindery Circle: order',
      purpose: 'order',
      title: 'Bindery Circle',
      sections: [
        section(
          [
            {
              blocks: [
                heading('A new pattern each month, and the bench on Sundays'),
                block('orderForm', {
                  offers: [offer(products.circle)],
                  country: true,
                  label: 'Begin with 14 free days',
                  trust,
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
  await createPage(
    q,
    {
      path: 'case-set',
      name: 'Case Set: order',
      purpose: 'order',
      title: 'Case Set',
      sections: [
        section(
          [
            {
              blocks: [
                heading('Templates and guide, together'),
                block('orderForm', { offers: [offer(products.set)], country: true, label: 'Pay €33', trust }),
              ],
            },
          ],
          narrow,
        ),
      ],
    },
    at,
  )
  return { guide, course, circle, thanks }
}
