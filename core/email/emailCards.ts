import type { Block } from '../blocks/block.ts'
import type { MergeFormat } from '../blocks/mergeText.ts'
import { formatMerged, mergeNameOfCountdown, mergeNameOfDeadline } from '../blocks/mergeValues.ts'
import { Html, html } from '../html.ts'
import {
  emailWidth,
  fixedHtml,
  hrefOf,
  lineHtml,
  sentencesHtml,
  sideSpace,
  written,
  type EmailContext,
} from './emailContext.ts'
import { literalHtml, valueHtml } from './emailTemplate.ts'

/** A moment of a block, told on the clock of the reader. @param at as it is kept (ISO 8601) */
export const momentHtml = (at: string, format: MergeFormat, { editing, business }: EmailContext): Html =>
  editing
    ? html`${formatMerged({ moment: Date.parse(at), zone: business.zone }, format, null)}`
    : new Html(`{{ ${Date.parse(at)} | at_${format} }}`)

/** The same in plain text. */
export const momentText = (at: string, format: MergeFormat): string =>
  `{{ ${Date.parse(at)} | at_${format} }}`

interface Card {
  id: string
  picture?: { id: number; alt: string }
  title: Html
  detail?: Html
  words: string
  label: string
}

/** A card as one cell: mailboxes agree on little more. */
function card(
  { id, picture, title, detail, words, label }: Card,
  context: EmailContext,
  classes: Html,
): Html {
  const { colours, corner } = context.brand
  const files = picture ? context.pictureOf(picture.id) : null
  const width = emailWidth - 4 * sideSpace
  const file = files?.widths.find((each) => each >= width * 2) ?? files?.widths.at(-1)
  const base = files && (context.editing ? files.base : `{{ base_url }}${files.base}`)
  const href = hrefOf(id, 'card', context)
  const button = `display:inline-block;padding:12px 22px;border-radius:${Math.min(corner, 28)}px;background:${colours.accent};color:${colours.onAccent};font-weight:700;text-decoration:none`
  const panel = `padding:${sideSpace}px;border-radius:${Math.min(corner, 12)}px;background:${colours.tint}`
  return html`<mj-text ${classes}
    ><div style="${panel}">
      ${
        files &&
        html`<p>
          <img
            src="${new Html(`${base}-${file}.jpg`)}"
            alt="${fixedHtml(picture?.alt ?? '', context)}"
            width="${width}"
            style="display:block;max-width:100%;height:auto;border-radius:${Math.min(corner, 8)}px"
          />
        </p>`
      }
      <p><strong style="font-size:19px">${title}</strong></p>
      ${detail && html`<p style="color:${colours.accent};font-weight:700">${detail}</p>`}${
        (words || context.editing) &&
        html`<p${written('words', context)}>${sentencesHtml(words, context)}</p>`
      }${
        label &&
        html`<p>
          <a ${href !== null && html`href="${new Html(href)}"`} style="${button}" ${written('label', context)}
            >${lineHtml(label, context)}</a
          >
        </p>`
      }
    </div></mj-text
  >`
}

export const lessonCard = (
  { id, page, title, words, label }: Block<'lessonCard'>,
  context: EmailContext,
  classes: Html,
): Html => {
  const own = page === null ? '' : (context.titleOf(page) ?? '')
  return card(
    {
      id,
      title: title ? lineHtml(title, context) : fixedHtml(own || 'no lesson chosen', context),
      words,
      label,
    },
    context,
    classes,
  )
}

export const productCard = (
  { id, picture, alt, name, words, price, label }: Block<'productCard'>,
  context: EmailContext,
  classes: Html,
): Html =>
  card(
    {
      id,
      ...(picture !== null && { picture: { id: picture, alt } }),
      title: html`<span${written('name', context)}>${lineHtml(name, context)}</span>`,
      ...((price || context.editing) && {
        detail: html`<span${written('price', context)}>${fixedHtml(price, context)}</span>`,
      }),
      words,
      label,
    },
    context,
    classes,
  )

export const sessionCard = (
  { id, title, at, words, label }: Block<'sessionCard'>,
  context: EmailContext,
  classes: Html,
): Html =>
  card(
    {
      id,
      title: html`<span${written('title', context)}>${lineHtml(title, context)}</span>`,
      ...(at !== null && { detail: momentHtml(at, 'dateAndTime', context) }),
      words,
      label,
    },
    context,
    classes,
  )

/** The picture of a countdown is drawn when it is asked for: as an email is opened, it shows what is left then. */
export const countdownWidth = 320
export const countdownHeight = 84

export const countdown = (
  { until, deadline, words }: Block<'countdown'>,
  context: EmailContext,
  classes: Html,
): Html => {
  const { colours } = context.brand
  const size = html`width="${countdownWidth}" height="${countdownHeight}" style="display:block;margin:0 auto"`
  const picture =
    deadline !== null
      ? context.editing
        ? html`<span class="nopic">each one’s own time left: ${deadline}</span>`
        : html`<img
            src="${valueHtml(mergeNameOfCountdown(deadline))}"
            alt="${valueHtml(mergeNameOfDeadline(deadline))}"
            ${size}
          />`
      : until === null
        ? html`<span class="nopic">no date chosen</span>`
        : html`<img
            src="${context.editing ? html`${countdownPath(until)}` : new Html(`{{ base_url }}${countdownPath(until)}`)}"
            alt="${momentHtml(until, 'dateAndTime', context)}"
            ${size}
          />`
  const units = deadline === null ? 'days, hours and minutes' : 'days, hours, minutes and seconds'
  return html`<mj-text ${classes} align="center"
    ><p${written('words', context)}>${lineHtml(words, context)}</p><p>${picture}</p><p style="font-size:13px;color:${colours.text}">${literalHtml(units)}</p></mj-text
  >`
}

/** Where the picture of a countdown lies. @param until as it is kept (ISO 8601) */
export const countdownPath = (until: string): string => `/countdown/${Date.parse(until)}.png`
