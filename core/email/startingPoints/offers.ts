import { agreed, asked, greeting, toChoose, toWrite, type EmailPoint } from './emailPoint.ts'

/** Emails that invite, remind and offer; and the letter that keeps people. */
export const offers: EmailPoint[] = [
  {
    id: 'invitation',
    name: 'Invitation',
    words: 'To a live session or an event. What, when, for whom. A hundred words.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.block('heading', { guidance: 'What people will have done by the end of it.' }),
      compose.text(greeting),
      toWrite(compose, 'Day, hour and zone in the first sentence. Then who is there.'),
      compose.block('list', { items: ['', '', ''], guidance: 'What to bring, or what they will learn.' }),
      toChoose(compose, 'Leads to the registration: “Keep a place for me”.'),
    ],
  },
  {
    id: 'last-call',
    name: 'Last call',
    words: 'On the last day, only when it truly ends. Fifty words.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'What ends, and at what hour. One sentence, without alarm.'),
      compose.block('list', { items: ['', ''], guidance: 'The two reasons that mattered most to others.' }),
      toChoose(compose, 'Leads straight to where one decides.'),
      toWrite(compose, 'What happens afterwards, so that nobody need fear to miss everything.'),
    ],
  },
  {
    id: 'you-left-something',
    name: 'You left something',
    words: 'An hour after somebody left the checkout. Forty words, and no discount yet.',
    subject: '',
    purpose: 'transactional',
    why: asked,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'What they had chosen, and that it is still there. One sentence.'),
      toChoose(compose, 'Leads back to where they were.'),
      toWrite(compose, 'What usually stops people, and the answer. Two sentences.'),
    ],
  },
  {
    id: 'what-customers-say',
    name: 'What customers say',
    words: 'Two voices, and little of your own. A hundred words.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'What people asked themselves before they bought. One sentence.'),
      compose.block('quotes', {
        quotes: [
          { words: '', name: '', about: '', picture: null },
          { words: '', name: '', about: '', picture: null },
        ],
        guidance: 'Their own words, with a name they allow you to use.',
      }),
      toChoose(compose, 'Leads to what they speak of.'),
    ],
  },
  {
    id: 'newsletter',
    name: 'Newsletter',
    words: 'One thought, one picture, one thing to do. Three hundred words at most.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.block('heading', { guidance: 'The thought of this month.' }),
      compose.text(greeting),
      toWrite(compose, 'What happened, what you learned. Two paragraphs.'),
      compose.block('picture', { guidance: 'From your bench, not from a catalogue.' }),
      toWrite(compose, 'What they could try. One paragraph.'),
      toChoose(compose, 'One thing to do, not three.'),
    ],
  },
  {
    id: 'question',
    name: 'One question',
    words: 'Asks something and offers nothing. Thirty words, plain.',
    subject: '',
    purpose: 'marketing',
    why: agreed,
    blocks: (compose) => [
      compose.text(greeting),
      toWrite(compose, 'One question that you really want answered. Two sentences, and “just reply”.'),
    ],
  },
]
