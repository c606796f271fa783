import type { Purpose } from '../../core/audience/people/permission.ts'
import type { Block } from '../../core/blocks/block.ts'
import { emptyEmail, type EmailContent } from '../../core/email/email.ts'
import type { Target } from '../../core/blocks/target.ts'
import { compose } from '../composer.ts'

const { block, text, section, document } = compose

export interface DemoEmail {
  name: string
  content: EmailContent
}

const whyOf: Record<Purpose, string> = {
  transactional: 'You get this because you asked for it.',
  marketing: 'You get this because you agreed to news about bookbinding.',
}

/** An email as Mara writes it: her greeting, what she has to say, her name. */
export const letter = (
  given: { subject: string; preheader: string; purpose: Purpose; heading?: string },
  ...blocks: Block[]
): EmailContent =>
  emptyEmail({
    subject: given.subject,
    preheader: given.preheader,
    purpose: given.purpose,
    why: whyOf[given.purpose],
    document: document(
      section([
        {
          blocks: [
            ...(given.heading ? [block('heading', { words: given.heading })] : []),
            text("Hello {first name or 'there'},"),
            ...blocks,
            text('Mara\nQuillfeather Bindery'),
          ],
        },
      ]),
    ),
  })

const button = (label: string, target: Target): Block => block('button', { label, target })

/** The emails of the follow-up "Template pack", for the file that the page promises. */
export function templatePackEmails(
  file: number,
): Record<'delivery' | 'reminder' | 'invitation' | 'grain', DemoEmail> {
  const download: Target = { to: 'file', file }
  return {
    delivery: {
      name: 'Your template pack',
      content: letter(
        {
          subject: 'Your Five-Hole Pamphlet templates',
          preheader: 'Three sizes, ready to print. The folding takes ten minutes.',
          purpose: 'transactional',
          heading: 'Here are your templates',
        },
        text(
          'three piercing templates in one file: A6, A5 and pocket size. Print them at 100 %, fold one sheet along the dashed line, and you have your first spine.',
        ),
        button('Download the template pack', download),
        text('Reply to this email if a hole sits in the wrong place. I read every answer.'),
      ),
    },
    reminder: {
      name: 'Did you find it?',
      content: letter(
        {
          subject: 'Still on the bench: your pamphlet templates',
          preheader: 'In case the first email went under.',
          purpose: 'marketing',
        },
        text(
          'two days ago you asked for the pamphlet templates, and it looks as if they are still unopened. Here they are again. One sheet of paper and a needle are enough for this evening.',
        ),
        button('Download the template pack', download),
      ),
    },
    invitation: {
      name: 'Stitch along on Sunday',
      content: letter(
        {
          subject: "{first name or 'Hello'}, bring your pamphlet on Sunday",
          preheader: 'We sew one together, live, with guest Ilse Varga.',
          purpose: 'marketing',
          heading: 'Sewing is better in company',
        },
        text(
          'you have the templates. On Sunday we sew one pamphlet together, from the first hole to the last knot, with my guest Ilse Varga. It is free, and you can ask as we go.',
        ),
        block('list', {
          items: [
            'Eight sheets of paper',
            'A needle and an arm’s length of thread',
            'The templates, printed',
          ],
        }),
        button('See what you need', { to: 'path', path: '/p/template-pack/thanks' }),
      ),
    },
    grain: {
      name: 'Paper grain in ten minutes',
      content: letter(
        {
          subject: 'Why some pages will not lie flat',
          preheader: 'Ten minutes on paper grain.',
          purpose: 'marketing',
        },
        text(
          'paper has a direction. Fold along it and the page lies down; fold across it and it fights you for ever. Bend a sheet both ways: the softer bend runs with the grain.',
        ),
        button('Get the templates once more', download),
      ),
    },
  }
}
