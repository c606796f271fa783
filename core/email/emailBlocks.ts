import type { Block, BlockKind } from '../blocks/block.ts'
import { Html, html } from '../html.ts'
import { writtenField } from '../blocks/mergeText.ts'
import { altOf, shownPicture } from '../pages/blocks/pictureHtml.ts'
import { richTextMarkup } from '../pages/blocks/richTextHtml.ts'
import { typefaces } from '../pages/brand.ts'
import {
  conditionally,
  emailWidth,
  fixedHtml,
  hrefOf,
  lineHtml,
  sentencesHtml,
  sideSpace,
  written,
  type EmailContext,
} from './emailContext.ts'
import { countdown, lessonCard, productCard, sessionCard } from './emailCards.ts'
import { fieldHtml } from './emailTemplate.ts'

/** Draws a kind of block as MJML. @param classes for its outermost element */
type EmailBlock<B> = (block: B, context: EmailContext, classes: Html) => Html

/** A typeface of the brand with what stands in for it: most mailboxes have none of ours. */
export const familyOf = (face: EmailContext['brand']['body']): string =>
  `${typefaces[face].family}, ${typefaces[face].fallback}`

const alignOf = (align: 'start' | 'centre'): string => (align === 'centre' ? 'center' : 'left')

const headingSizes = { 1: 30, 2: 24, 3: 19 } as const

const heading: EmailBlock<Block<'heading'>> = ({ words, level, align }, context, classes) => {
  const size = headingSizes[level]
  const inner = new Html(
    `<h${level}${html`${written('words', context)}`.markup}>${lineHtml(words, context).markup}</h${level}>`,
  )
  return html`<mj-text
    ${classes}
    align="${alignOf(align)}"
    font-family="${familyOf(context.brand.headings)}"
    font-size="${size}px"
    line-height="${Math.round(size * 1.25)}px"
    font-weight="700"
    >${inner}</mj-text
  >`
}

const text: EmailBlock<Block<'text'>> = ({ id, content }, context, classes) => {
  const inner = richTextMarkup(content, {
    words: (words) => fixedHtml(words, context),
    link: (label, link) => {
      const href = hrefOf(id, link.id, context)
      return href === null ? label : html`<a href="${new Html(href)}">${label}</a>`
    },
    field: (field) =>
      context.editing ? html`${writtenField(field)}` : fieldHtml(field, writtenField(field)),
    // Nobody writes empty paragraphs for their sake: distances are right by themselves.
    keepsEmpty: context.editing,
  })
  // The cell around it has no size of letters: one writes within.
  return html`<mj-text ${classes}
    >${context.editing ? html`<div class="rich">${inner}</div>` : inner}</mj-text
  >`
}

const pictureWidths = { small: 160, half: 276, full: emailWidth - 2 * sideSpace } as const

/** A picture of the Library: the smallest of its files that is sharp at twice this width. */
function image(
  id: number | null,
  given: { alt: string; width: number; href?: string | null; round?: boolean; align?: string },
  context: EmailContext,
  classes: Html,
): Html {
  const files = id === null ? null : context.pictureOf(id)
  if (!files)
    return context.editing
      ? html`<mj-text ${classes}><span class="nopic">no picture chosen</span></mj-text>`
      : html``
  const width = Math.min(given.width, files.width)
  const file = files.widths.find((each) => each >= width * 2) ?? files.widths.at(-1) ?? files.width
  const link = given.href && html` href="${new Html(given.href)}"`
  const base = context.editing ? files.base : `{{ base_url }}${files.base}`
  return html`<mj-image
    ${classes}
    src="${new Html(base)}-${file}.jpg"
    alt="${fixedHtml(given.alt, context)}"
    width="${width}px"
    align="${given.align ?? 'left'}"
    border-radius="${given.round ? '50%' : `${Math.min(context.brand.corner, 8)}px`}"
    ${link}
  />`
}

const picture: EmailBlock<Block<'picture'>> = (block, context, classes) => {
  const drawn = image(
    shownPicture(block, context),
    {
      alt: altOf(block),
      width: pictureWidths[block.size],
      href: hrefOf(block.id, 'picture', context),
      round: block.shape === 'circle',
    },
    context,
    classes,
  )
  const caption =
    block.caption &&
    html`<mj-text font-size="14px" line-height="20px">${lineHtml(block.caption, context)}</mj-text>`
  return html`${drawn}${caption}`
}

const logoHeights = { small: 28, medium: 40, large: 72 } as const

/** The logo of the brand, or the name of the business. */
export const logo: EmailBlock<Pick<Block<'logo'>, 'size' | 'align'>> = (block, context, classes) => {
  const { brand, business } = context
  const files = brand.logo === null ? null : context.pictureOf(brand.logo)
  if (!files)
    return html`<mj-text ${classes} font-weight="700" align="${alignOf(block.align)}"
      >${fixedHtml(business.name, context)}</mj-text
    >`
  const width = Math.round((logoHeights[block.size] * files.width) / files.height)
  return image(brand.logo, { alt: business.name, width, align: alignOf(block.align) }, context, classes)
}

const button: EmailBlock<Block<'button'>> = ({ id, label, look, align }, context, classes) => {
  const href = hrefOf(id, 'button', context)
  const { accent, onAccent } = context.brand.colours
  const [fill, ink] = look === 'filled' ? [accent, onAccent] : ['none', accent]
  return html`<mj-button
    ${classes}
    align="${alignOf(align)}"
    background-color="${fill}"
    color="${ink}"
    border="2px solid ${accent}"
    ${href !== null && html` href="${new Html(href)}"`}
    ><span${written('label', context)}>${lineHtml(label, context)}</span></mj-button
  >`
}

const list: EmailBlock<Block<'list'>> = ({ marker, items }, context, classes) => {
  const rows = items.map(
    (item, i) =>
      html`<tr><td class="mark">${marker === 'ticks' ? '✓' : `${i + 1}.`}</td><td${written(`items.${i}`, context)}>${lineHtml(item, context)}</td></tr>`,
  )
  return html`<mj-text ${classes}
    ><table role="presentation" class="points">
      ${rows}
    </table></mj-text
  >`
}

const quotes: EmailBlock<Block<'quotes'>> = ({ quotes: all }, context, classes) =>
  html`<mj-text ${classes}
    >${all.map(
      ({ words, name, about }, i) =>
        html`<blockquote><p${written(`quotes.${i}.words`, context)}>${sentencesHtml(words, context)}</p><p><strong${written(`quotes.${i}.name`, context)}>${fixedHtml(name, context)}</strong>${
          (about || context.editing) &&
          html`<br><span${written(`quotes.${i}.about`, context)}>${fixedHtml(about, context)}</span>`
        }</p></blockquote>`,
    )}</mj-text
  >`

/** A fifth of the text's colour on the background's: mailboxes know no transparency. */
function lineColour({ text: ink, background }: EmailContext['brand']['colours']): string {
  const part = (hex: string, at: number): number => Number.parseInt(hex.slice(at, at + 2), 16)
  const mixed = [1, 3, 5].map((at) => Math.round(part(background, at) * 0.8 + part(ink, at) * 0.2))
  return `#${mixed.map((each) => each.toString(16).padStart(2, '0')).join('')}`
}

const divider: EmailBlock<Block<'divider'>> = (_block, { brand }, classes) =>
  html`<mj-divider ${classes} border-width="1px" border-color="${lineColour(brand.colours)}" />`

const spaces = { small: 8, medium: 24, large: 48 } as const

const spacer: EmailBlock<Block<'spacer'>> = ({ size }, _context, classes) =>
  html`<mj-spacer ${classes} height="${spaces[size]}px" />`

const ownHtml: EmailBlock<Block<'ownHtml'>> = ({ markup }, context, classes) => {
  const safe = context.safeHtml(markup).replaceAll('{', '&#123;').replaceAll('}', '&#125;')
  // Pictures of the Library lie where the business's pages do.
  const placed = context.editing ? safe : safe.replaceAll('src="/pictures/', 'src="{{ base_url }}/pictures/')
  return html`<mj-text ${classes}>${new Html(placed)}</mj-text>`
}

/** How each kind of block is drawn in an email; kinds that no email may have are not. */
const emailBlocks: { [K in BlockKind]: EmailBlock<Block<K>> | null } = {
  heading,
  text,
  picture,
  button,
  list,
  quotes,
  logo,
  divider,
  spacer,
  ownHtml,
  countdown,
  lessonCard,
  productCard,
  sessionCard,
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

/** A block as MJML; nothing of a kind that no email may have. */
export function emailBlock(block: Block, context: EmailContext): Html {
  const draw = emailBlocks[block.kind] as EmailBlock<Block> | null
  const classes = [
    block.hiddenOnPhones && 'nophone',
    context.editing && `b ${block.kind} b-${block.id}`,
  ].filter((each) => each !== false)
  if (!draw) return html``
  const drawn = draw(block, context, classes.length > 0 ? html` css-class="${classes.join(' ')}"` : html``)
  const words = block.shownTo?.instead ?? ''
  const instead = words ? html`<mj-text>${sentencesHtml(words, context)}</mj-text>` : html``
  return conditionally(block, drawn, instead, context)
}
