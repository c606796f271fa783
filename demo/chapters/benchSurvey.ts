import { simpleForm } from '../../core/capture/form.ts'
import { freshField } from '../../core/capture/formEdits.ts'
import type { Queries } from '../../server/database/connect.ts'
import { compose } from '../composer.ts'
import { createField, createForm, createPage } from './create.ts'

const { block, text, section } = compose

const press = [
  { id: 'none', label: 'None yet' },
  { id: 'nipping', label: 'A nipping press' },
  { id: 'laying', label: 'A laying press' },
  { id: 'boards', label: 'Two boards and some bricks' },
]
const tools = [
  { id: 'bone-folder', label: 'Bone folder' },
  { id: 'awl', label: 'Awl' },
  { id: 'cradle', label: 'Punching cradle' },
  { id: 'knife', label: 'Paring knife' },
]

/** A form of three steps: what stands on people's benches. */
export async function make(q: Queries, at: Date): Promise<void> {
  const fields = {
    press: await createField(q, 'Press', 'oneOf', press, at),
    tools: await createField(q, 'Within reach', 'manyOf', tools, at),
    height: await createField(q, 'Bench height in cm', 'number', [], at),
  }
  const own = (id: string, label: string, field: number, hint = '') => ({
    ...freshField('own', id),
    label,
    field,
    hint,
  })
  const [who] = simpleForm({}, 'Yes, you may write to me about what I said.').steps
  const form = await createForm(
    q,
    'Your bench',
    simpleForm({
      title: 'What is on your bench?',
      button: 'Send my answers',
      next: 'Go on',
      steps: [
        {
          id: 'benchstep',
          title: 'Your bench',
          fields: [
            own('benchpress', 'What do you press with?', fields.press),
            own('benchheight', 'How high is it?', fields.height, 'In centimetres, from the floor.'),
          ] as never,
        },
        {
          id: 'toolstep',
          title: 'Your tools',
          fields: [
            own('benchtools', 'What is within reach?', fields.tools),
            { ...freshField('message', 'benchwish'), label: 'What do you miss most?' },
          ] as never,
        },
        { id: 'whostep', title: 'And you are?', fields: who?.fields ?? [] },
      ],
      actions: [{ does: 'notifyTeam' }],
      after: {
        then: 'message',
        title: 'Thank you for showing us your bench',
        words: 'In a month we tell everybody what we found.',
      },
    }),
    at,
  )
  await createPage(
    q,
    {
      path: 'your-bench',
      name: 'Your bench',
      purpose: 'any',
      title: 'What is on your bench?',
      sections: [
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, words: 'Show us your bench' }),
                text('Three short steps. Your answers decide which tools we teach next.'),
                block('form', { form }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ],
    },
    at,
  )
}
