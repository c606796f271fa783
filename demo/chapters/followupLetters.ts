import type { EmailContent } from '../../core/email/email.ts'
import { compose } from '../composer.ts'
import { deadlines } from './onceMore.ts'
import { letter } from './templatePackEmails.ts'

const { block, text } = compose

/** A short letter with one button. */
const note = (subject: string, preheader: string, words: string, label: string, path: string): EmailContent =>
  letter(
    { subject, preheader, purpose: 'marketing' },
    text(words),
    block('button', { label, target: { to: 'path', path } }),
  )

/** A short letter about a cart, with the way back to it. */
const aboutCart = (subject: string, preheader: string, words: string): EmailContent =>
  letter(
    { subject, preheader, purpose: 'transactional' },
    text(words),
    block('button', { label: 'Back to your order', target: { to: 'cart' } }),
  )

/** What the follow-ups of the story write, by what each is called. */
export const followupLetters = {
  'Welcome to the bench': note(
    'Welcome to the bench',
    'Who writes to you, and how often.',
    'I bind books in a small room with a north window, and once a month I write down what I learned there. Until the first letter comes, here is the page that most people begin with.',
    'How paper wants to fold',
    '/p/paper-grain',
  ),
  'The one tool': note(
    'The one tool you cannot borrow from the kitchen',
    'It costs less than lunch.',
    'a bone folder makes the difference between a fold and a crease. Any smooth edge will do for a start; the back of a spoon is the best of them.',
    'See three folds',
    '/p/paper-grain',
  ),
  'A question from Mara': note(
    'What would you like to sew first?',
    'One line is enough.',
    'notebooks, albums, a cover for a book that has lost its own? Answer with one line: it decides what I write about next.',
    'Or look at the templates once more',
    '/p/template-pack',
  ),
  'Your first evening': note(
    'Before you begin: set out four things',
    'It takes five minutes and saves an hour.',
    'paper, needle, thread, and a table that may be scratched. Read the first two pages, then put the book away and fold.',
    'Fold along with me',
    '/p/paper-grain',
  ),
  'Your order is still here': aboutCart(
    'Your order is still here',
    'Nothing is lost.',
    "you were about to order {what is in the cart or 'something of ours'}. It is kept, with all that you typed. If something did not work, answer this letter: I read it myself.",
  ),
  'Is it the sewing?': aboutCart(
    'Is it the sewing?',
    'Most people ask the same.',
    'the question that I hear most: I have never sewn anything. Good, there is nothing to unlearn. And if it is not for you after all, you get your money back within 30 days.',
  ),
  'The last word about it': aboutCart(
    'The last word about your order',
    'After this one I let it rest.',
    'this is the last that I write about it. If it helps to decide: {coupon code} takes 15 % off. It is yours alone, and good for three days; the button brings it along.',
  ),
  'Once more, and then no more': letter(
    {
      subject: 'The workshop once more, and then no more',
      preheader: 'Open for fourteen minutes from your first look.',
      purpose: 'transactional',
    },
    text(
      'you have just begun the course, and let the afternoon with leather go by. If it was only the moment: here it is once more.',
    ),
    block('button', {
      label: 'Have one more look',
      target: { to: 'path', path: '/p/first-journal/once-more' },
    }),
    block('countdown', {
      deadline: deadlines.once,
      words: 'Once you have looked, it is open for',
      after: '',
    }),
  ),
  'How does it sit?': note(
    'How does the spine sit?',
    'Send a picture, if you like.',
    'by now your first spine is sewn, and it is crooked: they all are. Answer with a picture and I tell you which hole it was.',
    'Why pages will not lie flat',
    '/p/paper-grain',
  ),
  'Bind your first journal': note(
    'A journal of your own, in four evenings',
    'From a stack of paper to a bound book.',
    'four evenings, one book: we choose the paper, sew the sections, make the case, and hang the book in it. You keep it, and the next one needs no course.',
    'See the four evenings',
    '/p/template-pack',
  ),
  'What others made': note(
    'Three journals by people who had never sewn',
    'One is crooked, and the dearest of them.',
    'the first was a present, the second holds a garden year, the third came back for a second volume. None of their makers had held a bookbinder’s needle before.',
    'Look at the templates',
    '/p/template-pack',
  ),
  'The door closes': note(
    'The introductory price ends tonight',
    'Afterwards the course stays, at its own price.',
    'if four evenings fit into this month, tonight is the moment. If they do not, the course waits: nothing is lost but the introductory price.',
    'Keep me a place',
    '/p/template-pack',
  ),
  'Still at the bench?': note(
    'Shall I keep a place for you?',
    'One click says yes.',
    'it has been quiet between us. If you still fold now and then, one click tells me; if not, I stop by myself, and there are no hard feelings.',
    'Yes, keep writing',
    '/p/paper-grain',
  ),
  'The last sheet': note(
    'The last letter, unless you say otherwise',
    'I stop here.',
    'this is the last one. The templates stay where they are, and so do I.',
    'Stay after all',
    '/p/paper-grain',
  ),
  'See you on Sunday': note(
    'You have a place on Sunday',
    'Eight sheets, a needle, an arm’s length of thread.',
    'your place is kept. Have eight sheets ready, folded if you like, and come five minutes early for the needle’s eye.',
    'What you need',
    '/p/template-pack/thanks',
  ),
  'We missed you': note(
    'You were missed on Sunday',
    'The next one is already planned.',
    'the notebook was sewn without you, and it has one section too many. The next Sunday is planned; until then here is how to fold the sheets.',
    'Fold the sheets',
    '/p/paper-grain',
  ),
  'Your binding, and its first sheet': note(
    'Your binding begins with one sheet',
    'You can fold it while you read this.',
    'whichever binding suits you, it begins in the same way: one sheet, folded with the grain, and a crease that you press only once. Do that today and the rest is patience.',
    'Find the grain first',
    '/p/paper-grain',
  ),
  'A year of books': note(
    'A year since your first book',
    'Many happy spines.',
    'a year ago, on this day, you bound your first book. Take it from the shelf, open it flat, and see what you would do better today. That is the whole craft.',
    'Something for the next one',
    '/p/paper-grain',
  ),
} satisfies Record<string, EmailContent>

export type FollowupLetter = keyof typeof followupLetters
