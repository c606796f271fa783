import type { Block, EmailContent } from '../../core/email/content.ts'

const ink = '#14323C'
const petrol = '#0E5A6B'

/** Words may hold merge fields, so only what would break the markup around them is escaped. */
function escapeMarkup(words: string): string {
  return words.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')
}

function blockMarkup(block: Block, link: () => number): string {
  switch (block.kind) {
    case 'heading':
      return `<mj-text font-size="22px" line-height="30px" font-weight="700">${escapeMarkup(block.words)}</mj-text>`
    case 'text':
      return `<mj-text>${escapeMarkup(block.words).replaceAll('\n', '<br />')}</mj-text>`
    case 'button':
      return `<mj-button align="left" href="{{ links[${link()}] }}">${escapeMarkup(block.label)}</mj-button>`
  }
}

/** A letter as MJML; links stand in it as `{{ links[n] }}`. */
export function emailMarkup(content: EmailContent): string {
  let next = 0
  const body = content.blocks.map((block) => blockMarkup(block, () => next++)).join('\n')
  return `<mjml lang="en">
  <mj-head>
    <mj-title>${escapeMarkup(content.subject)}</mj-title>
    <mj-preview>${escapeMarkup(content.preheader)}</mj-preview>
    <mj-attributes>
      <mj-all font-family="Overpass, 'Segoe UI', Helvetica, Arial, sans-serif" />
      <mj-text font-size="16px" line-height="25px" color="${ink}" padding="8px 24px" />
      <mj-button background-color="${petrol}" color="#ffffff" font-size="16px" font-weight="600"
        border-radius="4px" inner-padding="12px 20px" padding="12px 24px" />
    </mj-attributes>
  </mj-head>
  <mj-body background-color="#F6F3EC" width="600px">
    <mj-section background-color="#FFFFFF" border-top="3px solid ${petrol}" padding="20px 0">
      <mj-column>${body}</mj-column>
    </mj-section>
    <mj-section padding="12px 0 24px">
      <mj-column>
        <mj-text font-size="13px" line-height="20px" color="#4A636B">
          {{ business.name }}, {{ business.postal_address }}<br />
 <a href="{{ preferences_url }}" style="color:#4A636B">Email preferences</a> ·
          <a href="{{ unsubscribe_url }}" style="color:#4A636B">Unsubscribe</a>
        </mj-text>
        <mj-raw><img src="{{ open_url }}" width="1" height="1" alt="" style="display:block" /></mj-raw>
      </mj-column>
    </mj-section>
  </mj-body>
</mjml>`
}
