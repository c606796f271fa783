import type { Block, BlockKind } from '../blocks/block.ts'
import type { Inline, RichNode, RichText } from '../blocks/richText.ts'
import type { ShownTo } from '../blocks/kinds/blockKind.ts'
import { conditionalParts, type EmailContent } from './email.ts'
import { writtenField } from '../blocks/mergeText.ts'
import { mergeNameOfDeadline } from '../blocks/mergeValues.ts'
import { momentText } from './emailCards.ts'
import { fieldText, literalText, wordsText } from './emailTemplate.ts'

/** The number of a link among those of the email; null when it leads nowhere. */
type LinkOf = (part: string) => number | null

const linkText = (link: number | null): string => (link === null ? '' : `{{ links[${link}] }}`)

function inlinesText(inlines: readonly Inline[], linkOf: LinkOf): string {
  const said = inlines.map((each, i) => {
    const mark = each.marks?.find((one) => one.type === 'link')
    const next = inlines[i + 1]?.marks?.find((one) => one.type === 'link')
    // A link that is broken up by bold words is written out once, behind its last word.
    const ends = mark && mark.attrs.id !== next?.attrs.id
    const link = ends ? linkOf(mark.attrs.id) : null
    const address = link === null ? '' : ` (${linkText(link)})`
    switch (each.type) {
      case 'text':
        return `${wordsText(each.text)}${address}`
      case 'hardBreak':
        return '\n'
      case 'mergeField':
        return `${fieldText(each.attrs, writtenField(each.attrs))}${address}`
    }
  })
  return said.join('')
}

function nodeText(node: RichNode, linkOf: LinkOf): string {
  if (node.type === 'paragraph') return inlinesText(node.content ?? [], linkOf)
  return node.content
    .map(({ content }, i) => {
      const mark = node.type === 'bulletList' ? '-' : `${i + 1}.`
      return `${mark} ${content.map((each) => inlinesText(each.content ?? [], linkOf)).join('\n  ')}`
    })
    .join('\n')
}

const richTextText = ({ content }: RichText, linkOf: LinkOf): string =>
  content
    .map((node) => nodeText(node, linkOf))
    .filter((each) => each.trim() !== '')
    .join('\n\n')

type TextOf<B> = (block: B, linkOf: LinkOf) => string

/** What each kind of block says in plain text; kinds that no email may have say nothing. */
const texts: { [K in BlockKind]: TextOf<Block<K>> | null } = {
  heading: ({ words }) => words.trim() && `${wordsText(words)}\n${'-'.repeat(Math.min(words.length, 60))}`,
  text: ({ content }, linkOf) => richTextText(content, linkOf),
  picture: ({ alt, decorative, caption }, linkOf) =>
    [decorative || !alt ? '' : `[${wordsText(alt)}]`, wordsText(caption), linkText(linkOf('picture'))]
      .filter(Boolean)
      .join('\n'),
  button: ({ label }, linkOf) => `${wordsText(label)}:\n${linkText(linkOf('button'))}`,
  list: ({ marker, items }) =>
    items.map((item, i) => `${marker === 'ticks' ? '-' : `${i + 1}.`} ${wordsText(item)}`).join('\n'),
  quotes: ({ quotes }) =>
    quotes
      .map(({ words, name, about }) => {
        const who = [name, about].filter(Boolean).map(wordsText).join(', ')
        return [`“${wordsText(words)}”`, who].filter(Boolean).join('\n')
      })
      .join('\n\n'),
  divider: () => '* * *',
  ownHtml: ({ markup }) =>
    literalText(
      markup
        .replace(/<[^>]*>/g, ' ')
        .replace(/\s+/g, ' ')
        .trim(),
    ),
  countdown: ({ until, deadline, words }) => {
    const date = until === null ? '' : momentText(until, 'dateAndTime')
    const own = deadline === null ? date : wordsText(`{${mergeNameOfDeadline(deadline)}}`)
    return [wordsText(words), own].filter(Boolean).join(' ')
  },
  lessonCard: ({ title, words, label }, linkOf) => cardText([title, words], label, linkOf('card')),
  productCard: ({ name, price, words, label }, linkOf) =>
    cardText([[name, price].filter(Boolean).join(', '), words], label, linkOf('card')),
  sessionCard: ({ title, at, words, label }, linkOf) =>
    [
      wordsText(title),
      at === null ? '' : momentText(at, 'dateAndTime'),
      cardText([words], label, linkOf('card')),
    ]
      .filter(Boolean)
      .join('\n'),
  spacer: null,
  logo: null,
  form: null,
  quiz: null,
  questions: null,
  video: null,
  pictureRow: null,
  priceCard: null,
  orderForm: null,
  nextOffer: null,
  purchase: null,
  lessonList: null,
  socialLinks: null,
}

const cardText = (lines: readonly string[], label: string, link: number | null): string =>
  [...lines.map(wordsText), link === null ? '' : `${wordsText(label)}: ${linkText(link)}`]
    .filter(Boolean)
    .join('\n')

const foot = (why: string): string =>
  [
    '--',
    ...(why ? [wordsText(why)] : []),
    '{{ business.name }}',
    '{{ business.postal_address }}',
    'Email preferences: {{ preferences_url }}',
    'Unsubscribe: {{ unsubscribe_url }}',
  ].join('\n')

/** How somebody writes a link of the email into a text part of their own: `{link 1}`. */
const ownLink = /\{link (\d{1,3})\}/g

/**
 * The text part of an email as a template: what the HTML part says, with links written out, or what somebody wrote in
 * its place. Lines are left long; the mail composer folds them by its transfer encoding.
 * @param linkOf the number of a link of a block among those of the email
 * @param links how many links the email has
 */
export function plainText(
  content: EmailContent,
  linkOf: (block: string, part: string) => number | null,
  links: number,
): string {
  if (content.text !== null) {
    const parts = content.text.split(ownLink)
    const said = parts.map((part, i) => {
      if (i % 2 === 0) return wordsText(part)
      const n = Number(part) - 1
      return n >= 0 && n < links ? linkText(n) : literalText(`{link ${part}}`)
    })
    return `${said.join('').trim()}\n\n${foot(content.why)}\n`
  }
  const conditions = conditionalParts(content)
  const conditionally = (part: { id: string; shownTo: ShownTo | null }, said: string): string => {
    const n = conditions.findIndex((each) => each.part === part.id)
    if (n < 0 || (!said && !part.shownTo?.instead)) return said
    return `{% if shows[${n}] %}${said}{% else %}${wordsText(part.shownTo?.instead ?? '')}{% endif %}`
  }
  const joined = (parts: readonly string[]): string => parts.filter((part) => part.trim() !== '').join('\n\n')
  const sections = content.document.sections.map((section) => {
    const blocks = section.columns.flatMap((column) => column.blocks)
    const said = blocks.map((block) => {
      const say = texts[block.kind] as TextOf<Block> | null
      return conditionally(block, say ? say(block, (part) => linkOf(block.id, part)) : '')
    })
    return conditionally(section, joined(said))
  })
  return `${joined([...sections, foot(content.why)])}\n`
}
