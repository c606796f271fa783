import type { Section } from '../blocks/document.ts'
import { html, type Html } from '../html.ts'
import type { EmailContent } from './email.ts'
import { emailBlock, familyOf, logo } from './emailBlocks.ts'
import {
  conditionally,
  emailWidth,
  lineHtml,
  partSpace,
  sentencesHtml,
  sideSpace,
  type EmailContext,
} from './emailContext.ts'

/** Rules that are written into the elements: many mailboxes read no others. */
const inlined = ({ brand: { colours, body } }: EmailContext): Html =>
  html`h1, h2, h3 { margin: 0; font-size: inherit; } p, ul, ol { margin: 0 0 ${partSpace}px; } p:last-child,
  ul:last-child, ol:last-child { margin-bottom: 0; } li { margin-bottom: 4px; } ul, ol { padding-left: 22px; }
  a { color: ${colours.accent}; } .points td { padding: 0 0 8px; vertical-align: top; color: ${colours.text};
  font: 16px/25px ${familyOf(body)}; } .points .mark { width: 28px; color: ${colours.accent}; font-weight:
  700; } blockquote { margin: 0 0 ${partSpace}px; padding: 0 0 0 16px; border-left: 3px solid
  ${colours.accent}; } blockquote:last-child { margin-bottom: 0; }`

const sectionMarkup = (section: Section, context: EmailContext): Html => {
  const { colours } = context.brand
  const fill = section.look.background === 'tinted' ? colours.tint : colours.background
  const whole = section.columns.reduce((sum, { share }) => sum + share, 0)
  const classes = [section.hiddenOnPhones && 'nophone', context.editing && `s-${section.id}`].filter(
    (each) => each !== false,
  )
  const drawn = html`<mj-section
    background-color="${fill}"
    padding="${sideSpace - partSpace}px 0 ${sideSpace}px"
    ${classes.length > 0 && html` css-class="${classes.join(' ')}"`}
    >${section.columns.map(
      ({ share, blocks }) =>
        html`<mj-column width="${Math.floor((share / whole) * 10_000) / 100}%" vertical-align="top"
          >${blocks.map((block) => emailBlock(block, context))}</mj-column
        >`,
    )}</mj-section
  >`
  const words = section.shownTo?.instead ?? ''
  const instead = words
    ? html`<mj-section background-color="${colours.background}" padding="0 0 ${sideSpace}px"
        ><mj-column><mj-text>${sentencesHtml(words, context)}</mj-text></mj-column></mj-section
      >`
    : html``
  return conditionally(section, drawn, instead, context)
}

/** Who writes, from where, why, and the ways out. */
function foot({ why }: EmailContent, context: EmailContext): Html {
  const ways = context.editing
    ? html`<a href="#">Email preferences</a> · <a href="#">Unsubscribe</a>`
    : html`<a href="{{ preferences_url }}">Email preferences</a> ·
        <a href="{{ unsubscribe_url }}">Unsubscribe</a>`
  const seen =
    !context.editing && html`<img src="{{ open_url }}" width="1" height="1" alt="" style="display:block" />`
  return html`<mj-section padding="8px 0 24px">
    <mj-column>
      <mj-text font-size="13px" line-height="20px"
        >${why && html`${sentencesHtml(why, context)}<br />`}${
          context.editing
            ? html`${context.business.name}, ${context.business.postalAddress}`
            : html`{{ business.name }}, {{ business.postal_address }}`
        }<br />${ways}${seen}</mj-text
      >
    </mj-column>
  </mj-section>`
}

/**
 * An email as MJML. What is personal stands in it as fields of a template; links stand as `{{ links[n] }}`, numbered
 * as `emailLinks` has them.
 */
export function emailMarkup(content: EmailContent, context: EmailContext): string {
  const { colours, body, corner } = context.brand
  return html`<mjml lang="en">
    <mj-head>
      <mj-title>${lineHtml(content.subject, context)}</mj-title>
      <mj-preview>${lineHtml(content.preheader, context)}</mj-preview>
      <mj-attributes>
        <mj-all font-family="${familyOf(body)}" padding="${partSpace}px ${sideSpace}px 0" />
        <mj-text font-size="16px" line-height="25px" color="${colours.text}" />
        <mj-column padding="0" />
        <mj-button
          font-size="16px"
          font-weight="700"
          border-radius="${Math.min(corner, 28)}px"
          inner-padding="12px 22px"
        />
      </mj-attributes>
      <mj-style inline="inline">${inlined(context)}</mj-style>
      <mj-style>@media (max-width: 480px) { .nophone { display: none !important; } }</mj-style>
    </mj-head>
    <mj-body background-color="${colours.tint}" width="${emailWidth}px">
      <mj-section background-color="${colours.background}" padding="8px 0 0"
        ><mj-column>${logo({ size: 'medium', align: 'start' }, context, html``)}</mj-column></mj-section
      >
      ${content.document.sections.map((section) => sectionMarkup(section, context))} ${foot(content, context)}
    </mj-body>
  </mjml>`.markup
}
