import { send } from '../../followups/usualSteps.ts'
import type { FunnelStarter } from './starter.ts'
import { column, greeting, heading, promiseBeside, said, signUp, whatComesNext } from './words.ts'

/** Two landing pages share their visitors; the same form stands on both. */
export const twoPages: FunnelStarter = {
  id: 'two-pages',
  goal: 'list',
  name: 'Two pages against each other',
  words:
    'Two landing pages with the same form, half of the visitors each; a thank-you page, and a follow-up that welcomes.',
  write(to, { name }) {
    const tag = to.tag('')
    const form = to.form('form', {
      button: 'Send it to me',
      actions: [{ does: 'addTag', tag }],
      after: { then: 'go', target: { to: 'nextStep' } },
    })
    const description = `${name}, by email.`.slice(0, 300)
    const one = to.page({
      name: 'landing page A',
      purpose: 'landing',
      description,
      sections: (compose) => [promiseBeside(compose, name, [signUp(compose, form)])],
    })
    const other = to.page({
      name: 'landing page B',
      at: 'b',
      purpose: 'landing',
      description,
      sections: (compose) => [
        column(compose, [
          heading(compose, name, 'Another promise, or the same in other words. Change one thing only.'),
          said(compose, 'Shorter than the other page: one sentence.'),
          signUp(compose, form),
        ]),
      ],
    })
    const thanks = to.page({
      name: 'thank-you page',
      at: 'thanks',
      purpose: 'thankYou',
      title: 'Thank you',
      sections: (compose) => [
        whatComesNext(compose, "Thank you, {first name or 'dear reader'}", 'Our email is on its way to you.'),
      ],
    })
    to.station(one, { page: other, share: 50 })
    to.station(thanks)
    const welcome = to.email({
      name: 'welcome',
      subject: `Welcome to ${name}`,
      preheader: 'What comes, and how often.',
      blocks: (compose) => [
        compose.text(greeting),
        said(compose, 'What you promised on the page. Three sentences.', 'Here is what you asked for.'),
      ],
    })
    to.followup('welcome', { startsWhen: [{ kind: 'formSent', form }], steps: [send('welcome', welcome)] })
  },
}
