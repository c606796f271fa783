import { days, morning, send } from '../../followups/usualSteps.ts'
import { simpleForm } from '../../capture/form.ts'
import type { FunnelStarter } from './starter.ts'
import { button, column, greeting, heading, promiseBeside, said, signUp } from './words.ts'

/** A letter whose readers confirm their address before anything goes out. */
export const newsletter: FunnelStarter = {
  id: 'newsletter',
  goal: 'list',
  name: 'A newsletter, address confirmed',
  words:
    'A page with a form, a page that asks for the confirming click, a welcome page, and a follow-up that welcomes whoever has confirmed.',
  write(to, { name }) {
    const topic = to.topic(name)
    const [waitingTag, confirmedTag] = [to.tag('waiting'), to.tag('confirmed')]
    const welcomePage = to.reserve()
    const plain = simpleForm({}, `Yes, send me ${name}. I can stop it at any time.`)
    const form = to.form('form', {
      button: 'Send me the letter',
      steps: plain.steps.map((step) => ({
        ...step,
        fields: step.fields.map((field) =>
          field.asks === 'consent' ? { ...field, topics: [topic] } : field,
        ),
      })),
      after: { then: 'go', target: { to: 'nextStep' } },
      confirm: {
        when: 'always',
        waitingTag,
        confirmedTag,
        remind: true,
        next: { to: 'page', page: welcomePage },
        letter: {
          subject: `Please confirm: ${name}`.slice(0, 150),
          words: 'One press, and the letter comes to you. Without it nothing happens.',
          button: 'Yes, write to me',
        },
      },
    })
    const landing = to.page({
      name: 'sign-up page',
      purpose: 'landing',
      description: `${name}: a letter by email.`.slice(0, 300),
      sections: (compose) => [promiseBeside(compose, name, [signUp(compose, form)])],
    })
    const confirm = to.page({
      name: 'one more step',
      at: 'confirm',
      purpose: 'confirm',
      title: 'One more step',
      sections: (compose) => [
        column(compose, [
          heading(compose, 'One more step', 'Say that something is left to do.'),
          said(
            compose,
            'From whom the email comes, and what its subject is.',
            'We have sent you an email with a button. Press it, and you are on the list.',
          ),
          compose.block('list', {
            marker: 'numbers',
            items: ['Open our email', 'Press the button in it', 'That is all'],
            guidance: 'What to do, step by step.',
          }),
        ]),
      ],
    })
    to.page(
      {
        name: 'welcome page',
        at: 'welcome',
        purpose: 'thankYou',
        title: 'Welcome',
        sections: (compose) => [
          column(compose, [
            heading(compose, "Welcome, {first name or 'dear reader'}", 'Say that it worked.'),
            said(
              compose,
              'When the next letter comes.',
              'You are on the list. The first letter comes today.',
            ),
          ]),
        ],
      },
      welcomePage,
    )
    to.station(landing)
    to.station(confirm)
    to.station(welcomePage)
    const welcome = to.email({
      name: 'welcome',
      subject: `Welcome to ${name}`,
      preheader: 'Who writes, what comes, how often.',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'Who you are, as you would say it across a table. Three sentences.',
          'Good to have you here.',
        ),
        compose.block('list', {
          items: ['', '', ''],
          guidance: 'What they will get from you, and how often.',
        }),
        said(
          compose,
          'A question that is easy to answer. Replies tell mailboxes that you are wanted.',
          'What would you like to read about? Just reply.',
        ),
      ],
    })
    const best = to.email({
      name: 'the most read letter',
      subject: 'The letter that most people keep',
      preheader: 'One thing that you can do today.',
      blocks: (compose) => [
        compose.text(greeting),
        said(compose, 'The one letter of yours that people came back to. Two hundred words at most.'),
        button(
          compose,
          'Have a look',
          { to: 'page', page: welcomePage },
          'Change this to lead to that letter.',
        ),
      ],
    })
    to.followup('welcome', {
      startsWhen: [{ kind: 'addressConfirmed', form }],
      steps: [send('welcome', welcome), days('three-days', 3), morning('morning'), send('best', best)],
    })
  },
}
