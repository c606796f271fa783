import type { EmailContent } from '../../core/email/email.ts'
import { compose } from '../composer.ts'
import { letter } from './templatePackEmails.ts'

const { block, text } = compose

/** A letter of a month. */
export interface Issue {
  name: string
  content: EmailContent
  /** The other subject of its split test, where it had one. */
  otherSubject?: string
}

interface Told {
  name: string
  subject: string
  otherSubject?: string
  preheader: string
  technique: string
  button: string
  question: string
}

const issueOf = ({ name, subject, otherSubject, preheader, technique, button, question }: Told): Issue => ({
  name: `Bindery letter: ${name.toLowerCase()}`,
  content: letter(
    { subject, preheader, purpose: 'marketing', heading: name },
    text(technique),
    block('button', { label: button, target: { to: 'path', path: '/p/paper-grain' } }),
    text(`And the question: ${question} Just reply.`),
  ),
  ...(otherSubject !== undefined && { otherSubject }),
})

const told: Told[] = [
  {
    name: 'Let it lie flat',
    subject: 'A spine that opens flat, and a question',
    preheader: 'One stitch more, and the book lies still on the table.',
    technique:
      'a book that has to be held open is read once. This month I sewed the same notebook twice, with and without a kettle stitch at each end, and left both on the table overnight. Only one was still open in the morning.',
    button: 'See both spines',
    question: 'what did you sew last, and for whom?',
  },
  {
    name: 'Wax, and how much of it',
    subject: 'How much wax is too much?',
    preheader: 'Three pulls over the cake, and no more.',
    technique:
      'thread that squeaks has had enough. I pulled the same linen over beeswax three, six and twelve times, and after twelve it left grey marks in every hole.',
    button: 'Look at the holes',
    question: 'beeswax, candle, or nothing at all?',
  },
  {
    name: 'The awl goes straight down',
    subject: 'Why your holes wander',
    preheader: 'It is the table, not your hand.',
    technique:
      'a cradle of folded cardboard holds a section better than any hand. Mine is made of a cereal box, and has lasted four years.',
    button: 'Fold the cradle',
    question: 'what is the oldest tool on your bench?',
  },
  {
    name: 'Paste or glue',
    subject: 'Paste or glue? Both are right',
    otherSubject: 'The jar that I threw away',
    preheader: 'One forgives, the other holds.',
    technique:
      'paste gives you a minute to change your mind; glue gives you none. So endpapers get paste, and the spine gets glue, and I stopped mixing the two.',
    button: 'See what happened to the spine',
    question: 'what have you glued that you wish you had not?',
  },
  {
    name: 'Endpapers from scraps',
    subject: 'Nothing under the table is waste',
    preheader: 'Offcuts make the nicest first page.',
    technique:
      'I keep every strip that is wider than two fingers. Joined edge to edge and pasted on a thin sheet, they make endpapers that nobody else has.',
    button: 'Which strips go together',
    question: 'what do you keep that others would throw away?',
  },
  {
    name: 'Pressing without a press',
    subject: 'Two boards and a bucket of water',
    preheader: 'Ten kilos, for the price of a bucket.',
    technique:
      'a press is lovely, and a bucket is there. Between two boards, ten litres weigh ten kilos, and tomorrow the bucket is a bucket again.',
    button: 'How long to leave it',
    question: 'what is the heaviest thing in your kitchen?',
  },
  {
    name: 'Tearing is not cutting',
    subject: 'A torn edge, on purpose',
    preheader: 'Fold, wet, wait, pull.',
    technique:
      'a soft edge wants water and patience. Fold twice, draw a wet brush along the fold, count to twenty, and pull the halves apart as you would a plaster.',
    button: 'See the edge',
    question: 'which edges do you like to touch?',
  },
  {
    name: 'The chain on the outside',
    subject: 'A chain that everybody sees',
    preheader: 'It looks hard, and is four movements.',
    technique:
      'a chain stitch on an open spine has four movements, and after the third section your hands know them. The first two sections look terrible. Leave them.',
    button: 'The four movements',
    question: 'what did you only learn by doing it badly?',
  },
  {
    name: 'One thread, one colour',
    subject: 'Red thread in a grey book',
    preheader: 'The cheapest ornament there is.',
    technique:
      'nobody needs a gilded edge. One red thread in a grey book does the same work, and costs eleven cents.',
    button: 'Three books, three threads',
    question: 'which colour would you never use?',
  },
  {
    name: 'The month of mending',
    subject: 'Bring me your broken books',
    preheader: 'A spine is only cloth.',
    technique:
      'this month I made nothing new. Nine old books came in with loose spines, and nine went home. Eight of them needed nothing but a strip of thin paper.',
    button: 'The strip that mends',
    question: 'which book would you save first?',
  },
  {
    name: 'Counting sheets',
    subject: 'Eight sheets, or twelve?',
    preheader: 'Thick sections gape; thin ones swell.',
    technique:
      'eight sheets of ordinary paper make a section that closes. Twelve gape like a hungry bird. With thin paper it is the other way about.',
    button: 'Find your number',
    question: 'do you count before or after folding?',
  },
  {
    name: 'A knife for years',
    subject: 'Sharpen it on a teacup',
    preheader: 'The ring under a cup is a fine stone.',
    technique:
      'turn a teacup over: the unglazed ring is a stone, and a knife drawn along it ten times on each side cuts bookboard again.',
    button: 'Ten strokes a side',
    question: 'what do you sharpen, and what do you replace?',
  },
  {
    name: 'Small is not easy',
    subject: 'A book as small as a stamp',
    preheader: 'Every millimetre is a decision.',
    technique:
      'I bound a book of the size of a stamp, and learned that a millimetre is a lot. What is hidden in a large book is all there is in a small one.',
    button: 'See it beside a coin',
    question: 'how small have you gone?',
  },
  {
    name: 'The first letter',
    subject: 'A technique, a book and a question',
    preheader: 'This is the first one. Say hello.',
    technique:
      'from now on I write to you once a month, from our bench to yours. Today: paper has a grain, and everything else follows from it.',
    button: 'Find the grain',
    question: 'what would you like to read about here?',
  },
]

/** The letters of the last months, the newest first. */
export const issues: readonly Issue[] = told.map(issueOf)

/** The one that goes out next. */
export const nextIssue: Issue = issueOf({
  name: 'A year on the shelf',
  subject: 'What fourteen months of letters taught me',
  preheader: 'And which one you opened most.',
  technique:
    'I laid all letters of this and last year beside each other. The ones you answered were never about books: they were about hands, kitchens and grandmothers.',
  button: 'The most answered question',
  question: 'what shall next year’s letters be about?',
})
