import { encode, wrap } from 'nodemailer/lib/qp'

/** Longest line before the sign that it goes on (RFC 2045 §6.7: 76 with it). */
const lineLength = 75

/**
 * Text in quoted-printable (RFC 2045 §6.7), ended so that whatever follows begins a new line of the message and goes
 * on in the same line of the text. Pieces can so be encoded each by itself and put one after the other.
 */
export function quotedPiece(text: string): string {
  if (text === '') return ''
  return `${wrap(encode(text.replace(/\r?\n|\r/g, '\r\n')), lineLength)}=\r\n`
}

/** What the template language reads; all else of a template is literal. */
const tags = /(\{%[\s\S]*?%\}|\{\{[\s\S]*?\}\})/

/** A template whose literal parts are in quoted-printable already: they are the same for every reader. */
export const quotedTemplate = (template: string): string =>
  template
    .split(tags)
    .map((part, i) => (i % 2 === 1 ? part : quotedPiece(part)))
    .join('')
