import type { Block } from '../../blocks/block.ts'
import type { Composer } from '../../blocks/compose.ts'
import type { Section } from '../../blocks/document.ts'
import type { Target } from '../../blocks/target.ts'

export const greeting = "Hello {first name or 'there'},"

const narrow = { width: 'narrow' } as const

/** A text to write over, or an empty one to fill in; the guidance says what belongs there. */
export const said = ({ text }: Composer, guidance: string, ...paragraphs: string[]): Block => ({
  ...text(...(paragraphs.length > 0 ? paragraphs : [''])),
  guidance,
})

export const heading = ({ block }: Composer, words: string, guidance: string, level: 1 | 2 = 1): Block =>
  block('heading', { level, words, guidance })

export const button = ({ block }: Composer, label: string, target: Target, guidance?: string): Block =>
  block('button', { label, target, ...(guidance !== undefined && { guidance }) })

/** A promise beside the place where one leaves the address. */
export const promiseBeside = (compose: Composer, name: string, beside: Block[]): Section =>
  compose.section([
    {
      share: 3,
      blocks: [
        heading(compose, name, 'One promise: what will they be able to do tonight?'),
        said(compose, 'For whom it is, and what is different afterwards. Two sentences.'),
        compose.block('list', { items: ['', '', ''], guidance: 'Three things that are in it.' }),
      ],
    },
    { share: 2, blocks: beside },
  ])

export const signUp = ({ block }: Composer, form: number): Block =>
  block('form', { form, guidance: 'Two fields are plenty: each one more costs sign-ups.' })

/** What happens now, for who has just sent the form. */
export const whatComesNext = (compose: Composer, title: string, coming: string): Section =>
  compose.section(
    [
      {
        blocks: [
          heading(compose, title, 'Say that it worked.'),
          compose.block('list', {
            marker: 'numbers',
            items: [
              coming,
              'Nothing after five minutes? Look in the folders for spam and for promotions.',
              'Add us to your contacts, so that the next one finds you, too.',
            ],
            guidance: 'What comes, from whom, and where to look for it.',
          }),
          button(compose, 'Add us to your contacts', { to: 'path', path: '/contact-card.vcf' }),
        ],
      },
    ],
    narrow,
  )

/** The next small step while they wait. */
export const nextOffer = (compose: Composer, words: string): Section =>
  compose.section(
    [
      {
        blocks: [
          heading(compose, 'While you are here', 'The next small step.', 2),
          said(compose, 'What it is, and for whom. Two sentences.', words),
          button(
            compose,
            'Have a look',
            { to: 'nowhere' },
            'Leads to your next offer, or to a letter of yours.',
          ),
        ],
      },
    ],
    { background: 'tinted', ...narrow },
  )

export const shortVideo = (compose: Composer): Section =>
  compose.section(
    [
      {
        blocks: [
          compose.block('video', {
            title: 'A word from us',
            guidance: 'You, for 30 to 60 seconds: what to do first.',
          }),
        ],
      },
    ],
    narrow,
  )

export const column = (compose: Composer, blocks: Block[]): Section => compose.section([{ blocks }], narrow)
