import {
  parseEncoded,
  parseLine,
  parseText,
  type MergeValues,
  type ParsedTemplate,
} from '../../../core/email/merge.ts'
import { html as escaped } from '../../../core/html.ts'
import { dateHeader, mailboxHeader, plainHeader, wordsHeader, type Mailbox } from './headers.ts'
import { quotedPiece, quotedTemplate } from './quotedPrintable.ts'

/** Neither of them can stand in quoted-printable: there, `=` is followed by two digits or a line break. */
const boundary = '=_nurtel'

const part = (type: string): string =>
  `--${boundary}\r\nContent-Type: ${type}; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n`

/** Templates of an email, and who sends it. */
export interface EmailToPrepare {
  subject: string
  text: string
  html: string | null
  from: Mailbox
  replyTo: string
}

/** What is made of a version of an email once for all its readers. */
export interface PreparedEmail {
  subject: ParsedTemplate
  /** Both as they go over the wire. */
  text: ParsedTemplate
  html: ParsedTemplate | null
  /** The headers that are the same for everybody. */
  sameHeaders: string
}

/** Parts that are there for some leave holes, which are closed in the whole text: only then is it encoded as a whole. */
function encodedText(template: string): ParsedTemplate {
  if (!template.includes('{% if shows[')) return parseEncoded(quotedTemplate(template), quotedPiece)
  const fill = parseText(template)
  return (values) => quotedPiece(fill(values))
}

/** @throws when a template cannot be read, or an address is none */
export function prepareEmail({ subject, text, html, from, replyTo }: EmailToPrepare): PreparedEmail {
  return {
    subject: parseLine(subject),
    text: encodedText(text),
    html:
      html === null
        ? null
        : parseEncoded(quotedTemplate(html), (value) => quotedPiece(escaped`${value}`.markup)),
    sameHeaders:
      mailboxHeader('From', from) +
      (replyTo === '' ? '' : mailboxHeader('Reply-To', { name: '', address: replyTo })),
  }
}

/** What a message has of its own. */
export interface MessageParts {
  to: Mailbox
  messageId: string
  /** The moment of sending on the person's clock. */
  at: number
  values: MergeValues
}

/**
 * The message as it goes over the wire (RFC 5322, 2045, 2046). With a way to unsubscribe in its headers: both lines
 * together make the mailbox's own button work by one POST (RFC 2369, RFC 8058).
 * @throws when it cannot be put together for this person
 */
export function composeMessage(email: PreparedEmail, { to, messageId, at, values }: MessageParts): string {
  const text = email.text(values)
  const html = email.html?.(values) ?? null
  const headers = [
    email.sameHeaders,
    mailboxHeader('To', to),
    wordsHeader('Subject', email.subject(values)),
    plainHeader('Message-ID', messageId),
    dateHeader(at),
    `List-Unsubscribe: <${values.unsubscribe_url}>\r\n`,
    'List-Unsubscribe-Post: List-Unsubscribe=One-Click\r\n',
    'MIME-Version: 1.0\r\n',
  ].join('')
  if (html === null)
    return `${headers}Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n${text}`
  return `${headers}Content-Type: multipart/alternative; boundary="${boundary}"\r\n\r\n${part('text/plain')}${text}\r\n${part('text/html')}${html}\r\n--${boundary}--\r\n`
}
