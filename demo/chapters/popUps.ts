import { popUpContent } from '../../core/capture/popUp.ts'
import { createPopUp, popUpDrafts } from '../../server/capture/popUps.ts'
import type { Queries } from '../../server/database/connect.ts'
import { business } from '../business.ts'
import { compose } from '../composer.ts'

const { block, text, section } = compose

/** The template pack as a pop-up, on the sales page and on other sites; and a quiet bar for the letter. */
export async function make(
  q: Queries,
  { templatePack, letter }: { templatePack: number; letter: number },
  at: Date,
): Promise<void> {
  const doing = { by: business.senderName, at }
  const all = [
    {
      name: 'Template pack before they go',
      content: popUpContent.parse({
        title: 'Take the templates with you',
        document: {
          sections: [
            section([
              {
                blocks: [
                  block('heading', { level: 2, words: 'Take the templates with you' }),
                  text('Five holes, one thread: sew your first pamphlet tonight, free of charge.'),
                  block('form', { form: templatePack }),
                ],
              },
            ]),
          ],
        },
        opens: { afterSeconds: 30, whenLeaving: true },
        pages: ['/p/first-journal'],
        elsewhere: false,
      }),
    },
    {
      name: 'Template pack on other sites',
      content: popUpContent.parse({
        title: 'Free pamphlet templates',
        document: {
          sections: [
            section([
              {
                blocks: [
                  block('heading', { level: 2, words: 'A pamphlet by tonight?' }),
                  text('The bindery next door sends you its templates.'),
                  block('form', { form: templatePack }),
                ],
              },
            ]),
          ],
        },
        shape: 'corner',
        opens: { afterScrolling: 40 },
        pages: ['http://127.0.0.1*', 'https://paperloft.example/*'],
        elsewhere: true,
      }),
    },
    {
      name: 'The letter, at the edge',
      content: popUpContent.parse({
        title: 'The Bindery letter',
        document: {
          sections: [
            section(
              [
                { blocks: [block('heading', { level: 3, words: 'One letter a month from our bench' })] },
                { blocks: [block('form', { form: letter })] },
              ],
              {},
            ),
          ],
        },
        shape: 'bar',
        opens: { afterSeconds: 45, fromVisit: 2 },
        pages: ['/p/paper-grain*'],
        devices: ['computer'],
      }),
    },
  ]
  for (const popUp of all) {
    const id = await createPopUp(q, popUp, doing)
    await popUpDrafts.publish(q, id, { version: 1, revision: 1 }, doing)
  }
}
