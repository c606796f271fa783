import { days, send } from '../../followups/usualSteps.ts'
import { orderPage, salesSections, thanksSections, writeLeftCarts } from './sellingParts.ts'
import type { FunnelStarter } from './starter.ts'
import { button, column, greeting, heading, said } from './words.ts'

export const sellCourse: FunnelStarter = {
  id: 'sell-course',
  goal: 'course',
  name: 'A course with an extra and one more offer',
  words:
    'A course at two prices, something small on the order page, a dearer and a smaller offer after paying, a first lesson for buyers, their first weeks, and three emails to who left the order page.',
  write(to, { name }) {
    const tag = to.tag('buyers')
    const course = to.course()
    const thanks = to.reserve()
    const lesson = to.page({
      name: 'lesson one',
      at: 'lesson-1',
      purpose: 'lesson',
      title: 'Lesson one',
      course,
      limitedTo: {
        people: { kind: 'hasTag', tag },
        others: {
          get: 'text',
          words: 'This lesson is for who has the course. Come by the link of your email.',
        },
      },
      sections: (compose) => [
        column(compose, [
          heading(compose, 'Lesson one', 'What they can do after this lesson.'),
          said(compose, 'One idea, and what they need at hand.'),
          compose.block('lessonList', { course, title: 'In this course' }),
        ]),
      ],
    })
    const begin = to.email({
      name: 'how to begin',
      subject: `Welcome to ${name}`,
      preheader: 'Your first lesson is open.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'How to begin, and where help is. Three sentences.',
          'Thank you. Your first lesson is open.',
        ),
        button(compose, 'Open lesson one', { to: 'page', page: lesson }),
      ],
    })
    const asks = to.email({
      name: 'how is it going?',
      subject: 'How is it going?',
      preheader: 'One line is enough.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(compose, 'A question that is easy to answer.', 'A week has gone by. Where are you? Just reply.'),
      ],
    })
    const followup = to.followup('buyers’ first weeks', {
      steps: [send('begin', begin), days('a-week', 7), send('how', asks)],
    })
    to.belongs(followup)
    const month = { count: 1, unit: 'month' } as const
    const product = to.product('', {
      title: name,
      brings: [
        { does: 'addTag', tag },
        { does: 'openPage', page: lesson },
        { does: 'startFollowup', followup },
      ],
      prices: [
        { id: to.newId(), name: 'At once', pays: { by: 'once', amount: 7_900 } },
        {
          id: to.newId(),
          name: 'In three payments',
          pays: { by: 'payments', amount: 8_700, payments: 3, every: month },
        },
      ],
    })
    const [extra, more, less] = (
      [
        ['extra', 1_200],
        ['one more offer', 14_900],
        ['smaller offer', 2_900],
      ] as const
    ).map(([part, amount]) =>
      to.product(part, {
        title: `${name}: ${part}`.slice(0, 120),
        bringsNothing: true,
        prices: [{ id: to.newId(), pays: { by: 'once', amount } }],
      }),
    )
    to.station(
      to.page({
        name: 'sales page',
        purpose: 'sales',
        description: `${name}: what is in it, for whom it is, and what it costs.`.slice(0, 300),
        sections: (compose) => salesSections(compose, name, { to: 'nextStep' }),
      }),
    )
    to.station(orderPage(to, { product, name, ...(extra !== undefined && { extra }) }))
    const offers = [
      {
        part: 'one more offer',
        at: 'one-more',
        purpose: 'upsell',
        of: more ?? 0,
        yes: { to: 'page', page: thanks },
      },
      { part: 'smaller offer', at: 'smaller', purpose: 'downsell', of: less ?? 0, yes: { to: 'nextStep' } },
    ] as const
    for (const { part, at, purpose, of, yes } of offers)
      to.station(
        to.page({
          name: part,
          at,
          purpose,
          title: 'One more thing',
          sections: (compose) => [
            column(compose, [
              heading(compose, 'One more thing, before you begin', 'What would make the first thing easier?'),
              said(
                compose,
                'What it is, and why now. Three sentences.',
                'It goes with what you have just bought.',
              ),
              compose.block('nextOffer', {
                offer: { product: of, price: null },
                label: 'Yes, add it to my order',
                decline: 'No, thank you',
                yes,
              }),
            ]),
          ],
        }),
      )
    to.page(
      {
        name: 'thank-you page',
        at: 'thanks',
        purpose: 'thankYou',
        title: 'Thank you',
        sections: thanksSections,
      },
      thanks,
    )
    to.station(thanks)
    to.station(lesson)
    writeLeftCarts(to, product)
  },
}
