import type { Condition } from '../audience/segments/condition.ts'
import type { Program } from './program.ts'
import { days, morning, opened, send, usual } from './usualSteps.ts'

/** What a starting point has made for it: an email from one of the emails' own starting points, or a tag. */
export interface Making {
  email: (point: string, name: string) => number
  tag: (name: string) => number
}

/** A follow-up to begin from. */
export interface FollowupStarter {
  id: string
  name: string
  /** What it is for, in a sentence. */
  words: string
  make: (making: Making) => Omit<Program, 'zone'>
}

const atPurchase = [{ when: { kind: 'productBought' } }] satisfies Program['leavesWhen']

const clicked = (email: number): Condition => ({
  kind: 'did',
  activity: 'emailClicked',
  details: { email },
  atLeast: 1,
})
const openedLately = (inDays: number): Condition => ({
  kind: 'did',
  activity: 'emailOpened',
  details: {},
  atLeast: 1,
  within: { kind: 'last', amount: inDays, unit: 'days' },
})

export const followupStarters: readonly FollowupStarter[] = [
  {
    id: 'deliver-and-remind',
    name: 'Deliver and remind',
    words:
      'Sends what was asked for, and another word to who did not open it, or opened it and did not click.',
    make({ email }) {
      const file = email('here-is-your-file', 'Here is your file')
      return {
        ...usual,
        steps: [
          send('deliver', file),
          {
            kind: 'waitUntil',
            id: 'fetched',
            when: clicked(file),
            atMost: { amount: 2, unit: 'days' },
            happened: {
              label: 'Fetched it',
              steps: [days('a-day', 1), send('next', email('one-lesson', 'How to begin'))],
            },
            otherwise: {
              label: 'Not yet',
              steps: [
                {
                  kind: 'branch',
                  id: 'has-opened',
                  arms: [
                    {
                      label: 'Opened',
                      when: opened(file),
                      steps: [send('one-press', email('question', 'Did the file work?'))],
                    },
                  ],
                  otherwise: {
                    label: 'Did not open',
                    steps: [send('remind', email('did-you-find-it', 'Did you find it?'))],
                  },
                },
              ],
            },
          },
        ],
      }
    },
  },
  {
    id: 'confirm',
    name: 'Confirm the address',
    words: 'Asks once more who has not confirmed, tags who did, and leaves the others alone.',
    make({ email, tag }) {
      const confirmed = { kind: 'did', activity: 'addressConfirmed', details: {}, atLeast: 1 } as const
      return {
        ...usual,
        steps: [
          {
            kind: 'waitUntil',
            id: 'confirmed',
            when: confirmed,
            atMost: { amount: 1, unit: 'days' },
            happened: { label: 'Confirmed', steps: [{ kind: 'addTag', id: 'tag', tag: tag('Confirmed') }] },
            otherwise: {
              label: 'Not yet',
              steps: [
                send('again', email('please-confirm', 'Please confirm your address')),
                { kind: 'end', id: 'end' },
              ],
            },
          },
        ],
      }
    },
  },
  {
    id: 'welcome',
    name: 'Welcome in three emails',
    words: 'Who you are, what helps at once, and a question that people answer.',
    make: ({ email }) => ({
      ...usual,
      steps: [
        send('welcome', email('welcome', 'Welcome')),
        days('two-days', 2),
        morning('morning'),
        send('lesson', email('one-lesson', 'One thing that helps')),
        days('three-days', 3),
        send('question', email('question', 'May I ask you something?')),
      ],
    }),
  },
  {
    id: 'three-lessons',
    name: 'Three lessons',
    words: 'A short course: a lesson a day at nine in the morning where the reader is, then what comes next.',
    make: ({ email }) => ({
      ...usual,
      steps: [
        send('one', email('one-lesson', 'Lesson one')),
        { kind: 'waitDay', id: 'day-one', day: 1, time: '09:00', clocks: 'person' },
        send('two', email('one-lesson', 'Lesson two')),
        { kind: 'waitDay', id: 'day-two', day: 2, time: '09:00', clocks: 'person' },
        send('three', email('one-lesson', 'Lesson three')),
        days('after', 2),
        send('next', email('invitation', 'What comes next')),
      ],
    }),
  },
  {
    id: 'waiting-list',
    name: 'Waiting list to the opening',
    words: 'Thanks at once, tells more before the date, and opens the door on it. Set the dates first.',
    make: ({ email, tag }) => ({
      ...usual,
      leavesWhen: atPurchase,
      steps: [
        { kind: 'addTag', id: 'tag', tag: tag('Waiting list') },
        send('thanks', email('welcome', 'You are on the list')),
        { kind: 'waitDate', id: 'a-week-before', date: '2027-09-06', time: '09:00', past: 'goOn' },
        send('more', email('what-customers-say', 'What to expect')),
        { kind: 'waitDate', id: 'opening', date: '2027-09-13', time: '09:00', past: 'goOn' },
        send('open', email('invitation', 'The doors are open')),
        days('three-days', 3),
        send('last', email('last-call', 'Last call')),
      ],
    }),
  },
  {
    id: 'sell',
    name: 'Sell in four emails, stop at purchase',
    words: 'An offer, what others say, an answer to doubts, a last call. Whoever buys gets no more of it.',
    make: ({ email }) => ({
      ...usual,
      leavesWhen: atPurchase,
      steps: [
        send('offer', email('invitation', 'An invitation')),
        days('two-days', 2),
        send('voices', email('what-customers-say', 'What others say')),
        days('two-more', 2),
        send('doubts', email('question', 'What keeps you?')),
        days('a-day', 1),
        send('last', email('last-call', 'Last call')),
      ],
    }),
  },
  {
    id: 'left-checkout',
    name: 'Left checkout',
    words:
      'Three emails to who left a cart: after an hour, a day and three days. Everything stops at the order.',
    make: ({ email }) => ({
      ...usual,
      startsWhen: [{ kind: 'checkoutLeft' }],
      // A later cart begins anew.
      reentry: 'afterLeaving',
      leavesWhen: atPurchase,
      steps: [
        send('at-once', email('you-left-something', 'Your order is still here')),
        days('a-day', 1),
        send('doubts', email('cart-doubts', 'What keeps you from it?')),
        days('two-more', 2),
        send('last', email('cart-last-word', 'The last word')),
      ],
    }),
  },
  {
    id: 'onboarding',
    name: 'Buyers’ first weeks',
    words: 'Helps who has bought to begin, asks how it goes, and asks for a few words.',
    make: ({ email, tag }) => ({
      ...usual,
      startsWhen: [{ kind: 'productBought' }],
      steps: [
        { kind: 'addTag', id: 'tag', tag: tag('Buyer') },
        send('begin', email('one-lesson', 'How to begin')),
        days('a-week', 7),
        send('how', email('question', 'How is it going?')),
        days('two-weeks', 14),
        send('words', email('what-customers-say', 'May I quote you?')),
      ],
    }),
  },
  {
    id: 'wake',
    name: 'Wake who went quiet',
    words:
      'Two tries for who has not opened for long; whoever stays quiet is tagged, so that you can stop writing.',
    make({ email, tag }) {
      const quiet = tag('Quiet')
      const isBack = openedLately(10)
      return {
        ...usual,
        reentry: 'afterDays',
        reentryDays: 180,
        steps: [
          send('first', email('question', 'Still interested?')),
          {
            kind: 'waitUntil',
            id: 'back',
            when: isBack,
            atMost: { amount: 7, unit: 'days' },
            happened: { label: 'Is back', steps: [{ kind: 'end', id: 'end' }] },
            otherwise: { label: 'Quiet', steps: [] },
          },
          send('second', email('last-call', 'Shall I stop writing?')),
          days('a-week', 7),
          {
            kind: 'branch',
            id: 'stays',
            arms: [{ label: 'Is back', when: isBack, steps: [] }],
            otherwise: { label: 'Stays quiet', steps: [{ kind: 'addTag', id: 'quiet', tag: quiet }] },
          },
        ],
      }
    },
  },
  {
    id: 'birthday',
    name: 'Birthday',
    words: 'A few words on the day, every year. Choose the field that has the date as its start.',
    make: ({ email }) => ({
      ...usual,
      reentry: 'afterDays',
      reentryDays: 300,
      steps: [send('greeting', email('invitation', 'For your birthday'))],
    }),
  },
]

/** A program to begin with when nothing is chosen. */
export const emptyProgram = (zone: string): Program => ({ ...usual, zone, steps: [] })
