import { send } from '../../followups/usualSteps.ts'
import { thanksSections } from './sellingParts.ts'
import type { FunnelStarter } from './starter.ts'
import { button, column, greeting, heading, said } from './words.ts'

export const oneMoreLook: FunnelStarter = {
  id: 'one-more-look',
  goal: 'sell',
  name: 'One more look',
  words:
    'For who bought something and did not take the offer after it: an email 15 minutes later, to a page of its own that is open for 14 minutes from the first look, and then never again.',
  write(to, { name }) {
    const product = to.product('', {
      title: name,
      bringsNothing: true,
      prices: [{ id: to.newId(), pays: { by: 'once', amount: 14_900 } }],
    })
    const offer = to.deadline('one more look', {
      begins: 'visit',
      runs: { by: 'length', lasts: { amount: 14, unit: 'minutes' } },
    })
    const page = to.page({
      name: 'one more look',
      purpose: 'order',
      deadline: offer,
      sections: (compose) => [
        column(compose, [
          heading(compose, name, 'The same offer, in other words.'),
          compose.block('countdown', {
            deadline: offer,
            words: 'Open for you for',
            after: 'This offer is over.',
          }),
          said(
            compose,
            'Why you ask once more. Two sentences.',
            'You have seen it after your order. Here it is once more, and then no more.',
          ),
          compose.block('orderForm', {
            offers: [{ product, price: null }],
            label: 'Pay now',
            trust: 'Your card details go to the card service alone; we never see them.',
          }),
        ]),
      ],
    })
    to.station(page)
    to.station(
      to.page({
        name: 'thank-you page',
        at: 'thanks',
        purpose: 'thankYou',
        title: 'Thank you',
        sections: thanksSections,
      }),
    )
    const hasNot = {
      kind: 'not',
      of: { kind: 'did', activity: 'productBought', details: { product }, atLeast: 1 },
    } as const
    const email = to.email({
      name: 'one more look',
      subject: 'One more look, and then no more',
      preheader: 'It is open for a quarter of an hour from your first look.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'What it is, and why now. Two sentences.',
          'You have just bought something of ours, and left one thing aside. Here it is once more.',
        ),
        compose.block('countdown', {
          deadline: offer,
          words: 'Once you have looked, it is open for',
          after: '',
        }),
        button(compose, 'Have one more look', { to: 'page', page }),
      ],
    })
    to.belongs(
      to.followup('one more look', {
        startsWhen: [{ kind: 'productBought' }],
        entryCondition: hasNot,
        leavesWhen: [{ when: { kind: 'productBought', product } }],
        steps: [
          { kind: 'waitFor', id: 'a-quarter', amount: 15, unit: 'minutes' },
          send('once-more', email, { onlyIf: hasNot }),
        ],
      }),
    )
  },
}
