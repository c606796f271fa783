import type { Composer } from '../../blocks/compose.ts'
import type { Section } from '../../blocks/document.ts'
import type { Target } from '../../blocks/target.ts'
import { days, send } from '../../followups/usualSteps.ts'
import { button, column, greeting, heading, said } from './words.ts'
import type { FunnelWriter } from './writer.ts'

/** What is sold, told so that somebody can decide. */
export function salesSections(compose: Composer, name: string, order: Target): Section[] {
  return [
    column(compose, [
      heading(compose, name, 'What will they have, or be able to do, that they have not now?'),
      said(compose, 'For whom it is, and for whom not. Two sentences.'),
      compose.block('list', { items: ['', '', ''], guidance: 'Three things that are in it.' }),
      button(compose, `Get ${name}`.slice(0, 80), order),
      compose.block('questions', { guidance: 'The doubts people have before they buy.' }),
    ]),
  ]
}

/** Who has paid is named, with the ways to what they bought. */
export const thanksSections = (compose: Composer): Section[] => [
  column(compose, [
    heading(compose, 'It is yours', 'Say that it worked.'),
    compose.block('purchase', {
      greeting: 'Thank you',
      words: 'The receipt is on its way to you by email, with the same links.',
    }),
    said(
      compose,
      'The first thing to do now. One sentence.',
      'Nothing after five minutes? Look in the folder for spam.',
    ),
  ]),
]

/** The three emails to who left the order page: nothing comes any more once they have bought. */
export function writeLeftCarts(to: FunnelWriter, product: number): void {
  const emails = [
    {
      name: 'your order is still here',
      subject: 'Your order is still here',
      preheader: 'Nothing is lost.',
      words:
        'You were about to order {what is in the cart or "something of ours"}. It waits for you as you left it.',
      guidance: 'How to ask when something did not work. One sentence.',
      label: 'Go on where you left',
    },
    {
      name: 'what keeps you?',
      subject: 'What keeps you from it?',
      preheader: 'The question we hear most.',
      words: 'Most people who stop here ask themselves one thing.',
      guidance: 'The doubt that you hear most often, in their words, and your answer. Sixty words.',
      label: 'Back to your order',
    },
    {
      name: 'the last word about it',
      subject: 'The last word about it',
      preheader: 'Then we leave you alone.',
      words: 'This is the last email about your order.',
      guidance: 'A coupon with its last day, if you mean it; put a step that makes one before this email.',
      label: 'Finish your order',
    },
  ].map(({ words, guidance, label, ...rest }) =>
    to.email({
      ...rest,
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(compose, guidance, words),
        button(compose, label, { to: 'cart' }),
      ],
    }),
  )
  const [first = 0, second = 0, third = 0] = emails
  to.belongs(
    to.followup('left checkout', {
      startsWhen: [{ kind: 'checkoutLeft', product }],
      reentry: 'afterLeaving',
      leavesWhen: [{ when: { kind: 'productBought', product } }],
      steps: [
        send('at-once', first),
        days('a-day', 1),
        send('doubts', second),
        days('two-more', 2),
        send('last', third),
      ],
    }),
  )
}

/** A page where a product is bought: the address first, and no more fields than are needed. */
export const orderPage = (
  to: FunnelWriter,
  { product, name, extra }: { product: number; name: string; extra?: number },
): number =>
  to.page({
    name: 'order page',
    at: 'order',
    purpose: 'order',
    title: `Order ${name}`,
    sections: (compose) => [
      column(compose, [
        heading(compose, `Order ${name}`, 'The same words as on the page before.'),
        compose.block('orderForm', {
          offers: [{ product, price: null }],
          ...(extra !== undefined && {
            extra: { product: extra, price: null },
            extraWords: 'Something small that goes with it.',
          }),
          coupon: true,
          label: 'Pay now',
          trust: 'Your card details go to the card service alone; we never see them.',
          guidance: 'Each field more costs orders: ask for the country only where the tax depends on it.',
        }),
      ]),
    ],
  })
