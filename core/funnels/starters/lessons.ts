import { days, send } from '../../followups/usualSteps.ts'
import type { Step } from '../../followups/step.ts'
import type { FunnelStarter } from './starter.ts'
import { button, column, greeting, heading, promiseBeside, said, signUp, whatComesNext } from './words.ts'

const numbers = ['one', 'two', 'three'] as const

/** What follows the lessons: six emails that offer, each with one thing to say. */
const offers = [
  {
    name: 'what comes after',
    subject: 'You have done the three. And now?',
    preheader: 'What they lead to.',
    guidance: 'What the three lessons were for, and what is still missing. A hundred words.',
  },
  {
    name: 'how it is made',
    subject: 'A look inside',
    preheader: 'What you get, part by part.',
    guidance: 'What is in the offer, as a short list. No adjectives.',
  },
  {
    name: 'one who did it',
    subject: 'She had the same question',
    preheader: 'One story.',
    guidance: 'One customer before and after, in her own words. A hundred and fifty words.',
  },
  {
    name: 'for whom it is not',
    subject: 'Please do not buy this if…',
    preheader: 'Honest reasons against it.',
    guidance: 'Three reasons not to buy. It saves refunds, and people believe the rest.',
  },
  {
    name: 'your questions',
    subject: 'The questions we get most',
    preheader: 'Time, price, and what happens if you stop.',
    guidance: 'Four questions with two sentences each.',
  },
  {
    name: 'last call',
    subject: 'The last day',
    preheader: 'What ends, and what stays.',
    guidance: 'Only when it truly ends: what, and at what hour. Fifty words.',
  },
] as const

/** Three lessons, each open a day after the one before, then an offer: ten emails in all. */
export const threeLessons: FunnelStarter = {
  id: 'three-lessons',
  goal: 'course',
  name: 'Three lessons, then an offer',
  words:
    'A landing page, a thank-you page, three lessons of which the next ones are locked, a sales page, and ten emails: a welcome, one for each lesson, six that offer.',
  write(to, { name }) {
    const course = to.course()
    const tag = to.tag('')
    const form = to.form('form', {
      button: 'Begin with lesson one',
      actions: [{ does: 'addTag', tag }],
      after: { then: 'go', target: { to: 'nextStep' } },
    })
    const landing = to.page({
      name: 'landing page',
      purpose: 'landing',
      description: `${name}: three short lessons by email, free of charge.`.slice(0, 300),
      sections: (compose) => [promiseBeside(compose, name, [signUp(compose, form)])],
    })
    const lessons = numbers.map(() => to.reserve())
    const thanks = to.page({
      name: 'thank-you page',
      at: 'thanks',
      purpose: 'thankYou',
      title: 'Thank you',
      sections: (compose) => [
        whatComesNext(
          compose,
          "Good to have you, {first name or 'dear reader'}",
          'The first lesson is on its way to you.',
        ),
        column(compose, [button(compose, 'Begin with lesson one', { to: 'nextStep' })]),
      ],
    })
    lessons.forEach((id, i) => {
      const number = numbers[i] ?? 'one'
      to.page(
        {
          name: `lesson ${number}`,
          at: `lesson-${i + 1}`,
          purpose: 'lesson',
          title: `Lesson ${number}`,
          course,
          opens: i === 0 ? { when: 'atOnce' } : { when: 'daysAfterStart', days: i },
          sections: (compose) => [
            compose.section([
              {
                share: 2,
                blocks: [
                  heading(compose, `Lesson ${number}`, 'What they can do after this lesson.'),
                  said(compose, 'One idea a lesson, and what they need at hand.'),
                  compose.block('list', { marker: 'numbers', items: ['', '', ''], guidance: 'The steps.' }),
                  ...(i < 2
                    ? [button(compose, `On to lesson ${numbers[i + 1] ?? 'three'}`, { to: 'nextStep' })]
                    : [button(compose, 'What comes next', { to: 'nextStep' })]),
                ],
              },
              { blocks: [compose.block('lessonList', { course, title: 'In this course' })] },
            ]),
          ],
        },
        id,
      )
    })
    const salesPage = to.page({
      name: 'sales page',
      at: 'offer',
      purpose: 'sales',
      title: `After ${name}`,
      description: `What comes after ${name}: what is in it, and what it costs.`.slice(0, 300),
      sections: (compose) => [
        column(compose, [
          heading(compose, `After ${name}`, 'The result, not the tool.'),
          said(compose, 'For whom it is, and for whom not.'),
          compose.block('priceCard', {
            name: `After ${name}`.slice(0, 100),
            guidance: 'What it costs, and what is in it.',
          }),
          compose.block('questions', { guidance: 'The doubts people have before they buy.' }),
        ]),
      ],
    })
    for (const page of [landing, thanks, ...lessons, salesPage]) to.station(page)
    const welcome = to.email({
      name: 'welcome',
      subject: `Welcome to ${name}`,
      preheader: 'Three lessons, a day apart.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'Who you are, what comes, and when. Three sentences.',
          'Three short lessons come to you, a day apart. The first one is open.',
        ),
        button(compose, 'Go to the lessons', { to: 'page', page: lessons[0] ?? 0 }),
      ],
    })
    const lessonEmails = numbers.map((number, i) =>
      to.email({
        name: `lesson ${number}`,
        subject: `Lesson ${number} is open`,
        preheader: i === 0 ? 'Ten minutes are enough.' : 'It builds on the one before.',
        blocks: (compose) => [
          compose.text(greeting),
          said(
            compose,
            'When one needs it: a small scene. Two sentences.',
            `Lesson ${number} is waiting for you.`,
          ),
          button(compose, `Open lesson ${number}`, { to: 'page', page: lessons[i] ?? 0 }),
          ...(i > 0
            ? [
                button(compose, `Back to lesson ${numbers[i - 1] ?? 'one'}`, {
                  to: 'page',
                  page: lessons[i - 1] ?? 0,
                }),
              ]
            : []),
        ],
      }),
    )
    const offerEmails = offers.map(({ guidance, ...rest }) =>
      to.email({
        ...rest,
        blocks: (compose) => [
          compose.text(greeting),
          said(compose, guidance),
          button(compose, 'Have a look', { to: 'page', page: salesPage }),
        ],
      }),
    )
    const lessonSteps = lessonEmails.flatMap((email, i): Step[] => [
      ...(i === 0
        ? []
        : [{ kind: 'waitDay' as const, id: `day-${i}`, day: i, time: '09:00', clocks: 'person' as const }]),
      send(`lesson-${i + 1}`, email),
    ])
    const offerSteps = offerEmails.flatMap((email, i): Step[] => [
      days(`wait-${i + 1}`, i === offerEmails.length - 1 ? 2 : 1),
      send(`offer-${i + 1}`, email),
    ])
    to.followup('lessons and offer', {
      startsWhen: [{ kind: 'formSent', form }],
      leavesWhen: [{ when: { kind: 'productBought' } }],
      steps: [send('welcome', welcome), ...lessonSteps, ...offerSteps],
    })
  },
}
