import { agreed, asked, greeting, toChoose, toWrite, type EmailPoint } from './emailPoint.ts'

/** Emails that follow when somebody has signed up. */
export const afterSignUp: EmailPoint[] = [
  {
    id: 'here-is-your-file',
    name: 'Here is your file',
    words: 'Delivers what was asked for, at once. Sixty words are plenty.',
    subject: '',
    purpose: 'transactional',
    why: asked,
    blocks: (compose) => [
      compose.block('heading', { guidance: 'Name the file: “Your three templates”.' }),
      compose.text(greeting),
      toWrite(compose, 'What is in it, and the first thing to do with it. Two sentences.'),
      toChoose(compose, 'Leads to the file. Say what happens: “Download the templates”.'),
      toWrite(compose, 'Where to write when something does not work. One sentence.'),
    ],
  },
  {
    id: 'did-you-find-it',
    name: 'Did you find it?',
    words: 'To people who have not opened the file after two days. Forty words.',
    subject: '',
    purpose: 'marketing',
    why: asked,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'No reproach: the first email may have gone under. One sentence.'),
      toChoose(compose, 'The same file once more.'),
      toWrite(compose, 'What it takes to begin: five minutes, one sheet of paper. One sentence.'),
    ],
  },
  {
    id: 'welcome',
    name: 'Welcome',
    words: 'Says who writes, what comes, how often. A hundred words.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'Who you are, as you would say it across a table. Three sentences.'),
      compose.block('list', { items: ['', '', ''], guidance: 'What they will get from you, and how often.' }),
      toWrite(compose, 'A question that is easy to answer. Replies tell mailboxes that you are wanted.'),
    ],
  },
  {
    id: 'please-confirm',
    name: 'Please confirm',
    words: 'Asks for one click before anything else is sent. Thirty words.',
    subject: '',
    purpose: 'transactional',
    why: asked,
    blocks: (compose) => [
      compose.block('heading', { guidance: 'What the click brings: “One click, and the letter comes”.' }),
      toWrite(compose, 'Why you ask, and that nothing happens without it. One sentence.'),
      toChoose(compose, 'Leads to the page that confirms.'),
    ],
  },
  {
    id: 'one-lesson',
    name: 'One lesson',
    words: 'One thing that they can do today. Two hundred words at most.',
    subject: '',
    purpose: 'marketing',
    why: asked,
    blocks: (compose) => [
      compose.block('heading', { guidance: 'The one thing, as a promise.' }),
      compose.text(greeting),
      toWrite(compose, 'When one needs it: a small scene. Two sentences.'),
      compose.block('list', {
        marker: 'numbers',
        items: ['', '', ''],
        guidance: 'The steps, each a sentence.',
      }),
      toChoose(compose, 'Leads to the lesson, or to what helps with it.'),
      toWrite(compose, 'What comes next, and when. One sentence.'),
    ],
  },
]
