import type { StartingPoint } from './startingPoint.ts'

const formGuidance = 'Two fields are plenty: each one more costs sign-ups.'

/** Pages that make a promise and ask for an address. */
export const capturePoints: StartingPoint[] = [
  {
    id: 'landing-promise',
    purpose: 'landing',
    name: 'One promise',
    words: 'What they get on the left, the form on the right.',
    document: ({ block, text, section, document }) =>
      document(
        section([
          {
            share: 3,
            blocks: [
              block('heading', { level: 1, guidance: 'One promise: what will they be able to do tonight?' }),
              { ...text(''), guidance: 'Two sentences: for whom it is, and what is different afterwards.' },
              block('list', { items: ['', '', ''], guidance: 'Three things that are in it.' }),
            ],
          },
          { share: 2, blocks: [block('form', { guidance: formGuidance })] },
        ]),
      ),
  },
  {
    id: 'landing-look-inside',
    purpose: 'landing',
    name: 'A look inside',
    words: 'A picture of the thing, what others say of it, and the form at the end.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', {
                  level: 1,
                  align: 'centre',
                  guidance: 'One promise, in the words your readers use.',
                }),
                block('picture', {
                  guidance: 'Show the thing itself: the page, the sheet, the first minute.',
                }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
        section(
          [{ blocks: [block('quotes', { guidance: 'One person who tells what changed for them.' })] }],
          {
            background: 'tinted',
          },
        ),
        section(
          [
            {
              blocks: [
                block('heading', { words: '', guidance: 'Say once more what comes to their mailbox.' }),
                { ...text(''), guidance: 'What happens next, and how soon.' },
                block('form', { guidance: formGuidance }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'confirm-one-step',
    purpose: 'confirm',
    name: 'One more step',
    words: 'Asks to press the link in the email.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', {
                  level: 1,
                  words: 'One more step',
                  guidance: 'Say that something is left to do.',
                }),
                { ...text(''), guidance: 'From whom the email comes, and what its subject is.' },
                block('list', {
                  marker: 'numbers',
                  items: ['Open our email', 'Press the button in it', 'That is all'],
                  guidance: 'What to do, step by step.',
                }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'confirm-why',
    purpose: 'confirm',
    name: 'Why we ask',
    words: 'Explains the confirmation to who is in doubt.',
    document: ({ block, section, document }) =>
      document(
        section([
          {
            blocks: [
              block('heading', { level: 1, guidance: 'Your address needs a yes from you.' }),
              block('questions', {
                items: [
                  { question: 'Why is this needed?', answer: '' },
                  { question: 'I see no email. What now?', answer: '' },
                ],
                guidance: 'So that nobody can sign somebody else up. Look in spam and promotions.',
              }),
            ],
          },
        ]),
      ),
  },
]
