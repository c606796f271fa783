import type { EmailContent } from './content.ts'

/**
 * The text part of an email as a merge template: what the HTML part says, with links as `{{ links[n] }}`.
 * Lines are left long; the mail composer folds them by its transfer encoding.
 */
export function plainText(content: EmailContent): string {
  let link = 0
  const parts = content.blocks.map((block) => {
    switch (block.kind) {
      case 'heading':
        return block.words.toUpperCase() === block.words ? block.words : `${block.words}\n${'-'.repeat(20)}`
      case 'text':
        return block.words
      case 'button':
        return `${block.label}:\n{{ links[${link++}] }}`
    }
  })
  const foot = [
    '{{ business.name }}',
    '{{ business.postal_address }}',
    'Email preferences: {{ preferences_url }}',
    'Unsubscribe: {{ unsubscribe_url }}',
  ]
  return `${parts.join('\n\n')}\n\n--\n${foot.join('\n')}\n`
}
