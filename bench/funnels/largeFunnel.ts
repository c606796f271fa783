import { days, send } from '../../core/followups/usualSteps.ts'
import type { Step } from '../../core/followups/step.ts'
import type { FunnelFile } from '../../core/funnels/funnelFile.ts'
import { funnelWriter } from '../../core/funnels/starters/writer.ts'
import { button, column, heading, said, signUp } from '../../core/funnels/starters/words.ts'
import { randomPartId } from '../../server/pages/partIds.ts'

const count = <T>(n: number, make: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => make(i))

/** A funnel of twenty pages with a form on each, five follow-ups and sixty emails, written whole. */
export function largeFunnel(): FunnelFile {
  const wishes = {
    name: 'Large',
    path: 'large',
    labels: [],
    currency: null,
    opens: null,
    zone: 'Europe/Dublin',
  }
  const to = funnelWriter('list', wishes, randomPartId)
  const tag = to.tag('')
  const forms = count(5, (i) =>
    to.form(`form ${i + 1}`, {
      actions: [{ does: 'addTag', tag }],
      after: { then: 'go', target: { to: 'nextStep' } },
    }),
  )
  const pages = count(20, (i) =>
    to.page({
      name: `page ${i + 1}`,
      at: `page-${i + 1}`,
      purpose: 'landing',
      description: 'One of twenty.',
      sections: (compose) =>
        count(5, (n) =>
          column(compose, [
            heading(compose, `Part ${n + 1} of page ${i + 1}`, '', n === 0 ? 1 : 2),
            said(compose, '', 'A few sentences about what is in it, and for whom.', 'And some more of them.'),
            compose.block('list', { items: ['The first', 'The second', 'The third'] }),
            button(compose, 'Go on', { to: 'nextStep' }),
            ...(n === 0 ? [signUp(compose, forms[i % 5] ?? 0)] : []),
          ]),
        ),
    }),
  )
  for (const page of pages) to.station(page)
  count(5, (i) => {
    const emails = count(12, (n) =>
      to.email({
        name: `email ${i * 12 + n + 1}`,
        subject: `Letter ${i * 12 + n + 1}`,
        preheader: 'What is in it.',
        blocks: (compose) => [
          compose.text("Hello {first name or 'there'},"),
          said(compose, '', 'A letter of a few sentences.', 'With a second paragraph.'),
          button(compose, 'Read more about it', { to: 'page', page: pages[n] ?? 0 }),
        ],
      }),
    )
    to.followup(`follow-up ${i + 1}`, {
      startsWhen: [{ kind: 'formSent', form: forms[i] ?? 0 }],
      steps: emails.flatMap((email, n): Step[] => [send(`send-${n}`, email), days(`wait-${n}`, 2)]),
    })
  })
  return to.file
}
