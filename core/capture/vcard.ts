/** A sender whom people add to their address book, so that mail is not taken for spam. */
export interface SenderCard {
  name: string
  address: string
  organisation: string
  url?: string
}

/** RFC 6350 §3.4: commas, backslashes and line breaks in text values are escaped. */
function escapeText(value: string): string {
  return value.replace(/([\\,])/g, '\\$1').replace(/\r\n|\r|\n/g, '\\n')
}

/** RFC 6350 §3.4: in a compound value, semicolons part its components, so those of a component are escaped too. */
function escapeComponent(value: string): string {
  return escapeText(value).replaceAll(';', '\\;')
}

/** RFC 6350 §3.2: lines are folded at 75 octets, never inside a character. */
function fold(line: string): string {
  const encoder = new TextEncoder()
  let folded = ''
  let octets = 0
  for (const character of line) {
    const size = encoder.encode(character).length
    if (octets + size > 75) {
      folded += '\r\n '
      octets = 1
    }
    folded += character
    octets += size
  }
  return folded
}

/** The card as a vCard 4.0 file (RFC 6350). */
export function vcard(card: SenderCard): string {
  const lines = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    'KIND:org',
    `FN:${escapeText(card.name)}`,
    `ORG:${escapeComponent(card.organisation)}`,
    `EMAIL:${escapeText(card.address)}`,
    ...(card.url ? [`URL:${card.url}`] : []),
    'END:VCARD',
  ]
  return lines.map((each) => `${fold(each)}\r\n`).join('')
}
