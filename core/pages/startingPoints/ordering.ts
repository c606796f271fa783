import type { StartingPoint } from './startingPoint.ts'

/** One thing more for who has just paid, which one click adds. */
const offerAfterPaying = (
  purpose: 'upsell' | 'downsell',
  { name, words, guidance }: { name: string; words: string; guidance: string },
): StartingPoint => ({
  id: `${purpose}-one-click`,
  purpose,
  name,
  words,
  document: ({ block, text, section, document }) =>
    document(
      section(
        [
          {
            blocks: [
              block('heading', { level: 1, guidance }),
              { ...text(''), guidance: 'What it is, and why now. Three sentences.' },
              block('nextOffer', {
                label: 'Yes, add it to my order',
                decline: 'No, thank you',
                yes: { to: 'nextStep' },
                no: { to: 'nextStep' },
              }),
            ],
          },
        ],
        { width: 'narrow' },
      ),
    ),
})

/** Pages where something is bought, and what buyers see after it. */
export const orderingPoints: StartingPoint[] = [
  {
    id: 'order-narrow',
    purpose: 'order',
    name: 'Nothing but the order',
    words: 'What it is in one line, and the order form.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'What they are about to get.' }),
                { ...text(''), guidance: 'When and how it comes.' },
                block('orderForm', {
                  label: 'Pay now',
                  trust: 'Your card details go to the card service alone.',
                }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'order-beside',
    purpose: 'order',
    name: 'The order beside its reasons',
    words: 'The form on one side; what is in it, and a voice, on the other.',
    document: ({ block, section, document }) =>
      document(
        section([
          {
            share: 4,
            blocks: [
              block('heading', { level: 1, guidance: 'What they are about to get.' }),
              block('orderForm', { label: 'Pay now' }),
            ],
          },
          {
            share: 3,
            blocks: [
              block('picture', { guidance: 'The thing itself.' }),
              block('list', { items: ['', '', ''], guidance: 'What is in it.' }),
              block('quotes', { quotes: [{ words: '', name: '', about: '', picture: null }] }),
            ],
          },
        ]),
      ),
  },
  offerAfterPaying('upsell', {
    name: 'One more thing',
    words: 'A second product, added with one click by the card that has just paid.',
    guidance: 'What would make the first thing easier?',
  }),
  offerAfterPaying('downsell', {
    name: 'Something smaller',
    words: 'For who said no: less of it, for less, with one click.',
    guidance: 'The smaller way to the same end.',
  }),
  {
    id: 'thank-buyer',
    purpose: 'thankYou',
    name: 'Thanks to a buyer',
    words: 'Names the buyer and what they bought, with the way to it.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'That it worked, in your words.' }),
                block('purchase', { greeting: 'Thank you', words: 'Everything you bought is yours now.' }),
                { ...text(''), guidance: 'What to do with it first.' },
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
]
