import type { EmailContent } from '../../core/email/content.ts'
import type { Purpose } from '../../core/audience/people/permission.ts'

export interface DemoEmail {
  name: string
  purpose: Purpose
  content: EmailContent
}

/** How Mara's letters begin and end. */
export const hello = { kind: 'text', words: 'Hello {{ person.first_name | default: "there" }},' } as const
export const goodbye = { kind: 'text', words: 'Mara\nQuillfeather Bindery' } as const

/** The emails of the follow-up "Template pack", for the file that the page promises. */
export function templatePackEmails(
  file: number,
): Record<'delivery' | 'reminder' | 'invitation' | 'grain', DemoEmail> {
  return {
    delivery: {
      name: 'Your template pack',
      purpose: 'transactional',
      content: {
        subject: 'Your Five-Hole Pamphlet templates',
        preheader: 'Three sizes, ready to print. The folding takes ten minutes.',
        blocks: [
          { kind: 'heading', words: 'Here are your templates' },
          hello,
          {
            kind: 'text',
            words:
              'three piercing templates in one file: A6, A5 and pocket size. Print them at 100 %, fold one sheet along the dashed line, and you have your first spine.',
          },
          { kind: 'button', label: 'Download the template pack', target: { file } },
          {
            kind: 'text',
            words: 'Reply to this email if a hole sits in the wrong place. I read every answer.',
          },
          goodbye,
        ],
      },
    },
    reminder: {
      name: 'Did you find it?',
      purpose: 'marketing',
      content: {
        subject: 'Still on the bench: your pamphlet templates',
        preheader: 'In case the first email went under.',
        blocks: [
          hello,
          {
            kind: 'text',
            words:
              'two days ago you asked for the pamphlet templates, and it looks as if they are still unopened. Here they are again. One sheet of paper and a needle are enough for this evening.',
          },
          { kind: 'button', label: 'Download the template pack', target: { file } },
          goodbye,
        ],
      },
    },
    invitation: {
      name: 'Stitch along on Sunday',
      purpose: 'marketing',
      content: {
        subject: '{{ person.first_name | default: "Hello" }}, bring your pamphlet on Sunday',
        preheader: 'We sew one together, live, with guest Ilse Varga.',
        blocks: [
          { kind: 'heading', words: 'Sewing is better in company' },
          hello,
          {
            kind: 'text',
            words:
              'you have the templates. On Sunday we sew one pamphlet together, from the first hole to the last knot, with my guest Ilse Varga. It is free, and you can ask as we go.',
          },
          { kind: 'button', label: 'See what you need', target: { path: '/p/template-pack/thanks' } },
          goodbye,
        ],
      },
    },
    grain: {
      name: 'Paper grain in ten minutes',
      purpose: 'marketing',
      content: {
        subject: 'Why some pages will not lie flat',
        preheader: 'Ten minutes on paper grain.',
        blocks: [
          hello,
          {
            kind: 'text',
            words:
              'paper has a direction. Fold along it and the page lies down; fold across it and it fights you for ever. Bend a sheet both ways: the softer bend runs with the grain.',
          },
          { kind: 'button', label: 'Get the templates once more', target: { file } },
          goodbye,
        ],
      },
    },
  }
}
