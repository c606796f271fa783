import { days, send } from '../../followups/usualSteps.ts'
import type { FunnelStarter } from './starter.ts'
import { button, greeting, heading, promiseBeside, said, signUp, whatComesNext, column } from './words.ts'

/** The four emails that sell once the doors are open: what each is for. */
const sales = [
  {
    name: 'the doors are open',
    subject: 'The doors are open',
    preheader: 'You said you wanted to know first.',
    words: 'Today it begins, and you hear it before everybody else.',
    guidance: 'What opens, for whom, until when. A hundred words.',
  },
  {
    name: 'what others say',
    subject: 'What others made of it',
    preheader: 'Two voices, and little of our own.',
    words: 'Two people who were in the same place as you tell what changed.',
    guidance: 'Their own words, with names they allow you to use.',
  },
  {
    name: 'an answer to doubts',
    subject: 'The three questions we hear most',
    preheader: 'Time, price, and whether it is for you.',
    words: 'Here are honest answers to what people ask us.',
    guidance: 'Three questions with two sentences each. Say for whom it is not.',
  },
  {
    name: 'last call',
    subject: 'We close tonight',
    preheader: 'What happens afterwards, too.',
    words: 'Tonight we close the doors, so that we have time for who is inside.',
    guidance: 'What ends, and at what hour. No alarm. Fifty words.',
  },
] as const

export const waitingList: FunnelStarter = {
  id: 'waiting-list',
  goal: 'waitingList',
  name: 'A waiting list',
  words:
    'A product, a page with a form, a thank-you page, a sales page that takes orders; a confirmation at once, silence until the opening day, four emails that sell and stop at the purchase, and a welcome for buyers.',
  date: 'Opening day',
  write(to, { name, opens }) {
    const tag = to.tag('waiting list')
    const buyers = to.tag('buyers')
    const form = to.form('form', {
      button: 'Keep me a place',
      actions: [{ does: 'addTag', tag }],
      after: { then: 'go', target: { to: 'nextStep' } },
    })
    const product = to.product('', {
      title: name,
      brings: [{ does: 'addTag', tag: buyers }],
      bringsNothing: true,
      prices: [{ id: to.newId(), pays: { by: 'once', amount: 14_900 } }],
    })
    const landing = to.page({
      name: 'waiting list page',
      purpose: 'landing',
      description: `Be the first to hear when ${name} opens.`.slice(0, 300),
      sections: (compose) => [promiseBeside(compose, name, [signUp(compose, form)])],
    })
    const thanks = to.page({
      name: 'thank-you page',
      at: 'thanks',
      purpose: 'thankYou',
      title: 'You are on the list',
      sections: (compose) => [
        whatComesNext(compose, 'You are on the list', 'An email that says so is on its way to you.'),
      ],
    })
    const salesPage = to.page({
      name: 'sales page',
      at: 'join',
      purpose: 'sales',
      description: `${name}: what is in it, for whom it is, and what it costs.`.slice(0, 300),
      sections: (compose) => [
        column(compose, [
          heading(compose, name, 'What will they have made when they are through?'),
          said(compose, 'Where they are now, and what they have tried.'),
          compose.block('list', { items: ['', '', ''], guidance: 'What they get, in their words.' }),
          compose.block('questions', { guidance: 'The doubts people have before they buy.' }),
          compose.block('orderForm', {
            offers: [{ product, price: null }],
            label: 'Pay now',
            trust: 'Your card details go to the card service alone; we never see them.',
          }),
        ]),
      ],
    })
    to.station(landing)
    to.station(thanks)
    to.station(salesPage)
    const confirmed = to.email({
      name: 'you are on the list',
      subject: `You are on the list for ${name}`,
      preheader: 'What happens next, and when.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'The day on which it opens, and what they hear until then.',
          'You are on the list. On the opening day you hear it first.',
        ),
      ],
    })
    const selling = sales.map(({ words, guidance, ...rest }, i) =>
      to.email({
        ...rest,
        blocks: (compose) => [
          compose.text(greeting),
          said(compose, guidance, words),
          button(compose, i === 3 ? 'Decide now' : `Look at ${name}`.slice(0, 80), {
            to: 'page',
            page: salesPage,
          }),
        ],
      }),
    )
    const [open = 0, voices = 0, doubts = 0, lastCall = 0] = selling
    to.followup('until the doors close', {
      startsWhen: [{ kind: 'formSent', form }],
      leavesWhen: [{ when: { kind: 'productBought', product } }],
      steps: [
        send('confirmed', confirmed),
        { kind: 'waitDate', id: 'opening', date: opens ?? '2099-01-01', time: '09:00', past: 'goOn' },
        send('open', open),
        days('two-days', 2),
        send('voices', voices),
        days('two-more', 2),
        send('doubts', doubts),
        days('a-day', 1),
        send('last', lastCall),
      ],
    })
    const welcome = to.email({
      name: 'welcome, buyer',
      subject: `Welcome to ${name}`,
      preheader: 'How to begin.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'The first thing to do, and where help is. Three sentences.',
          'Thank you. Here is how to begin.',
        ),
      ],
    })
    const buyersWelcome = to.followup('buyers’ welcome', {
      startsWhen: [{ kind: 'productBought', product }],
      steps: [send('welcome', welcome)],
    })
    to.belongs(buyersWelcome)
  },
}
