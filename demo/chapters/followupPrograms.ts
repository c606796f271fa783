import type { Condition } from '../../core/audience/segments/condition.ts'
import type { Program } from '../../core/followups/program.ts'
import { days, morning, opened, send, usual } from '../../core/followups/usualSteps.ts'
import { business } from '../business.ts'
import type { Story } from '../story.ts'
import { deadlines } from './onceMore.ts'
import type { FollowupLetter } from './followupLetters.ts'

/** A follow-up of the story: its program, and from which activities of the last weeks people came into it. */
export interface Told {
  name: string
  program: Omit<Program, 'zone'>
  /** People who did this within so many days came in then; nobody yet without. */
  cameBy?: { kind: string; details?: Record<string, unknown>; within: number }
  state?: 'paused' | 'closing'
}

/** What the programs of the story speak of, besides what its chapters made. */
export interface Named {
  email: (name: FollowupLetter) => number
  tags: { quiet: number; journal: number }
  /** Who has gone quiet. */
  segment: number
  scorecard: number
}

/** The follow-ups of the story that run. */
export function followupsOf(story: Story, { email, tags, segment, scorecard }: Named): Told[] {
  const { shop, sessions, letter, craft } = story
  const bought = { when: { kind: 'productBought' as const, product: shop.course } }
  const noWorkshop: Condition = {
    kind: 'not',
    of: {
      kind: 'did',
      activity: 'productBought',
      details: { product: shop.products.workshop },
      atLeast: 1,
    },
  }
  return [
    {
      name: 'Welcome in three letters',
      cameBy: { kind: 'topicJoined', details: { topic: letter.topics.letter }, within: 40 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'topicJoined', topic: letter.topics.letter }],
        steps: [
          send('welcome', email('Welcome to the bench')),
          days('two-days', 2),
          morning('morning'),
          send('tool', email('The one tool')),
          { kind: 'waitDay', id: 'day-seven', day: 7, time: '09:00', clocks: 'person' },
          send('question', email('A question from Mara'), { onlyIf: opened(email('Welcome to the bench')) }),
        ],
      },
    },
    {
      name: 'Left checkout',
      cameBy: { kind: 'checkoutLeft', within: 60 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'checkoutLeft' }],
        reentry: 'afterLeaving',
        leavesWhen: [{ when: { kind: 'productBought' } }],
        steps: [
          send('at-once', email('Your order is still here')),
          days('a-day', 1),
          send('doubts', email('Is it the sewing?')),
          days('two-more', 2),
          { kind: 'makeCoupon', id: 'code', coupon: 'COME-BACK' },
          send('last', email('The last word about it')),
        ],
      },
    },
    {
      name: 'One more look at the workshop',
      cameBy: { kind: 'productBought', details: { product: shop.course }, within: 30 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'productBought', product: shop.course }],
        entryCondition: noWorkshop,
        leavesWhen: [{ when: { kind: 'productBought', product: shop.products.workshop } }],
        steps: [
          { kind: 'waitFor', id: 'a-quarter', amount: 15, unit: 'minutes' },
          send('once-more', email('Once more, and then no more'), { onlyIf: noWorkshop }),
        ],
      },
    },
    {
      name: 'First evenings of a buyer',
      cameBy: { kind: 'productBought', within: 60 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'productBought' }],
        reentry: 'afterDays',
        reentryDays: 90,
        steps: [
          send('begin', email('Your first evening')),
          days('a-week', 7),
          {
            kind: 'waitUntil',
            id: 'reads',
            when: opened(email('Your first evening')),
            atMost: { amount: 5, unit: 'days' },
            happened: { label: 'Reads', steps: [send('how', email('How does it sit?'))] },
            otherwise: {
              label: 'Has not opened',
              steps: [
                {
                  kind: 'notifyTeam',
                  id: 'tell',
                  words: 'A buyer has not opened the first letter: a few words of yours may help.',
                },
              ],
            },
          },
        ],
      },
    },
    {
      name: 'First Journal in three letters',
      cameBy: { kind: 'sessionAttended', within: 50 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'sessionAttended', session: sessions.stitchAlong }],
        leavesWhen: [bought],
        steps: [
          { kind: 'addTag', id: 'tag', tag: tags.journal },
          {
            kind: 'startDeadline',
            id: 'deadline',
            offer: deadlines.introductory,
            lasts: { amount: 6, unit: 'days' },
          },
          send('offer', email('Bind your first journal'), { whenFull: 'move' }),
          days('two-days', 2),
          {
            kind: 'split',
            id: 'half',
            shares: [
              { label: 'With voices', share: 50, steps: [send('voices', email('What others made'))] },
              { label: 'Without', share: 50, steps: [] },
            ],
          },
          {
            kind: 'waitRelative',
            id: 'before-it-ends',
            to: { what: 'deadline', offer: deadlines.introductory },
            amount: 12,
            unit: 'hours',
            side: 'before',
            past: 'skip',
          },
          send('last', email('The door closes')),
        ],
      },
    },
    {
      name: 'Stitch-Along reminders',
      cameBy: { kind: 'sessionRegistered', within: 30 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'sessionRegistered', session: sessions.stitchAlong }],
        reentry: 'afterLeaving',
        steps: [
          send('place', email('See you on Sunday')),
          {
            kind: 'waitUntil',
            id: 'came',
            when: {
              kind: 'did',
              activity: 'sessionAttended',
              details: { session: sessions.stitchAlong },
              atLeast: 1,
            },
            atMost: { amount: 4, unit: 'days' },
            happened: { label: 'Was there', steps: [] },
            otherwise: { label: 'Was not there', steps: [send('missed', email('We missed you'))] },
          },
        ],
      },
    },
    {
      name: 'Wake who went quiet',
      cameBy: { kind: 'formSent', within: 130 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'segmentEntered', segment }],
        reentry: 'afterDays',
        reentryDays: 180,
        entryCondition: {
          kind: 'not',
          of: { kind: 'did', activity: 'emailOpened', details: {}, atLeast: 1 },
        },
        steps: [
          send('still', email('Still at the bench?')),
          {
            kind: 'waitUntil',
            id: 'back',
            when: opened(email('Still at the bench?')),
            atMost: { amount: 10, unit: 'days' },
            happened: { label: 'Is back', steps: [{ kind: 'end', id: 'end' }] },
            otherwise: { label: 'Quiet', steps: [] },
          },
          send('last', email('The last sheet')),
          days('a-week', 7),
          {
            kind: 'branch',
            id: 'stays',
            arms: [{ label: 'Is back', when: opened(email('The last sheet')), steps: [] }],
            otherwise: { label: 'Stays quiet', steps: [{ kind: 'addTag', id: 'tag', tag: tags.quiet }] },
          },
        ],
      },
    },
    {
      name: 'A year since the first book',
      program: {
        ...usual,
        reentry: 'afterDays',
        reentryDays: 300,
        startsWhen: [
          {
            kind: 'dateComes',
            field: craft.firstBook,
            days: 0,
            side: 'before',
            every: 'year',
            time: '09:00',
          },
        ],
        steps: [
          send('year', email('A year of books')),
          {
            kind: 'waitUntil',
            id: 'answers',
            when: opened(email('A year of books')),
            atMost: { amount: 2, unit: 'weeks' },
            happened: { label: 'Looks back', steps: [days('a-day', 1), send('next', email('The one tool'))] },
            otherwise: { label: 'Does not', steps: [] },
          },
        ],
      },
    },
    {
      name: 'Which binding suits you: what next',
      cameBy: { kind: 'quizFinished', within: 25 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'quizFinished' }],
        leavesWhen: [bought],
        steps: [
          send('result', email('Your binding, and its first sheet')),
          days('four-days', 4),
          morning('morning'),
          send('others', email('What others made'), {
            onlyIf: opened(email('Your binding, and its first sheet')),
          }),
          { kind: 'waitDay', id: 'day-fourteen', day: 14, time: '18:00', clocks: 'person' },
          send('question', email('A question from Mara')),
        ],
      },
    },
    {
      name: 'Warm at the bench',
      cameBy: { kind: 'emailClicked', within: 9 },
      program: {
        ...usual,
        startsWhen: [{ kind: 'bandReached', scorecard, band: 'warm' }],
        reentry: 'afterDays',
        reentryDays: 60,
        leavesWhen: [bought],
        steps: [
          { kind: 'waitFor', id: 'a-day', amount: 1, unit: 'days', clocks: 'person' },
          send('offer', email('Bind your first journal'), { whenFull: 'skip' }),
          {
            kind: 'waitUntil',
            id: 'clicks',
            when: {
              kind: 'did',
              activity: 'emailClicked',
              details: { email: email('Bind your first journal') },
              atLeast: 1,
            },
            atMost: { amount: 6, unit: 'days' },
            happened: {
              label: 'Wants to know more',
              steps: [
                {
                  kind: 'notifyTeam',
                  id: 'tell',
                  words: 'Somebody warm looks at the course: a few words of yours may help.',
                },
              ],
            },
            otherwise: { label: 'Not now', steps: [] },
          },
        ],
      },
    },
    {
      name: 'Three folds',
      state: 'paused',
      cameBy: { kind: 'topicJoined', details: { topic: letter.topics.sessions }, within: 12 },
      program: {
        ...usual,
        steps: [
          send('one', email('The one tool')),
          { kind: 'waitDay', id: 'day-four', day: 4, time: '18:00' },
          send('two', email('A question from Mara')),
        ],
      },
    },
    {
      name: 'Spring fair guests',
      state: 'closing',
      cameBy: { kind: 'topicJoined', details: { topic: letter.topics.sessions }, within: 25 },
      program: {
        ...usual,
        steps: [
          send('welcome', email('Welcome to the bench')),
          days('two-weeks', 14),
          send('question', email('A question from Mara')),
        ],
      },
    },
  ]
}

/** The draft with the faults that its check finds: an email that is none, a lane that nobody takes, a date that has passed. */
export function atelier(email: (name: FollowupLetter) => number, product: number): Program {
  return {
    ...usual,
    zone: business.zone,
    startsWhen: [{ kind: 'tagAdded', tag: 9_999 }],
    steps: [
      send('thanks', email('Welcome to the bench')),
      { kind: 'waitDate', id: 'opening', date: '2026-09-14', time: '09:00', past: 'goOn' },
      {
        kind: 'branch',
        id: 'bought',
        arms: [
          {
            label: 'Has bought',
            when: { kind: 'did', activity: 'productBought', details: { product }, atLeast: 1 },
            steps: [{ kind: 'end', id: 'end' }],
          },
          {
            label: 'Bought twice',
            when: { kind: 'did', activity: 'productBought', details: { product }, atLeast: 2 },
            steps: [send('thanks-twice', email('How does it sit?'))],
          },
        ],
        otherwise: {
          label: 'Not yet',
          steps: [
            send('open', 99_999),
            send('again', email('The door closes'), { onlyIf: opened(email('Bind your first journal')) }),
          ],
        },
      },
    ],
  }
}
