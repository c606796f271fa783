import type { StartingPoint } from './startingPoint.ts'

const lookForIt = 'Nothing after five minutes? Look in the spam and promotions folders.'

/** Pages that come after the form: thanks, and the thing itself. */
export const deliveryPoints: StartingPoint[] = [
  {
    id: 'thanks-what-next',
    purpose: 'thankYou',
    name: 'What happens next',
    words: 'Tells what is coming and where to look for it.',
    document: ({ block, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', {
                  level: 1,
                  words: "Thank you, {first name or 'dear reader'}",
                  guidance: 'Say that it worked.',
                }),
                block('list', {
                  marker: 'numbers',
                  items: ['', lookForIt, ''],
                  guidance: 'What comes, from whom, with which subject; then: add us to your contacts.',
                }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'thanks-bridge',
    purpose: 'thankYou',
    name: 'A bridge to the next thing',
    words: 'Thanks, a short video, and one button that leads on.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'It is on its way.' }),
                { ...text(lookForIt), guidance: 'Where to look for the email.' },
                block('video', { guidance: 'You, for 30 to 60 seconds: what to do with it first.' }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
        section(
          [
            {
              blocks: [
                block('heading', { guidance: 'While they wait: the next small step.' }),
                block('button', { guidance: 'Where it leads.' }),
              ],
            },
          ],
          { background: 'tinted', width: 'narrow' },
        ),
      ),
  },
  {
    id: 'file-download',
    purpose: 'file',
    name: 'The file',
    words: 'One button, and how to use what comes.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'Here it is: name the thing.' }),
                block('button', {
                  label: 'Download',
                  guidance: 'Leads to the file. It comes by email as well.',
                }),
                {
                  ...text(''),
                  guidance: 'How to use it: print it, pierce it, watch it with a needle at hand.',
                },
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'file-with-help',
    purpose: 'file',
    name: 'The file with questions',
    words: 'The button beside a picture, and what people ask.',
    document: ({ block, section, document }) =>
      document(
        section([
          { blocks: [block('picture', { guidance: 'What it looks like.' })] },
          {
            blocks: [
              block('heading', { level: 1, guidance: 'Here it is.' }),
              block('button', { label: 'Download' }),
              block('questions', {
                items: [
                  { question: 'It does not print at the right size', answer: '' },
                  { question: 'Where else can I find it?', answer: 'In the email that we sent you.' },
                ],
                guidance: 'What people write to you about.',
              }),
            ],
          },
        ]),
      ),
  },
]
