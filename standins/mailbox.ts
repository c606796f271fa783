import { appendFileSync, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { simpleParser, type ParsedMail } from 'mailparser'
import { inboxMessage, type InboxMessage } from '../contract/email.ts'

/** Messages kept; older ones fall out. */
const kept = 5_000

/** All mail that the stand-in server took, newest last. */
export interface Mailbox {
  /** Keeps a message as it came over the wire. */
  take(raw: Buffer, to: readonly string[], receivedAt: Date): Promise<InboxMessage>
  list(filter: { to?: string; search?: string }): InboxMessage[]
  get(id: number): InboxMessage | undefined
  /** Throws away all that went to this address and nobody else. */
  empty(to: string): void
}

function headersOf(mail: ParsedMail): Record<string, string> {
  return Object.fromEntries(
    mail.headerLines.map(({ key, line }) => [
      key,
      line
        .slice(line.indexOf(':') + 1)
        .replace(/\r?\n\s+/g, ' ')
        .trim(),
    ]),
  )
}

/** What an earlier run kept: one JSON object a line. A last line that was cut off by a crash is passed over. */
function readKept(file: string): InboxMessage[] {
  if (!existsSync(file)) return []
  return readFileSync(file, 'utf8')
    .split('\n')
    .slice(-kept)
    .flatMap((line) => {
      try {
        return [inboxMessage.parse(JSON.parse(line))]
      } catch {
        return []
      }
    })
}

/** @param file where the mail is kept from one run to the next; without one it is gone at the end */
export function createMailbox(file: string | null): Mailbox {
  let messages = file ? readKept(file) : []
  let last = messages.at(-1)?.id ?? 0

  return {
    async take(raw, to, receivedAt) {
      // Links and pictures stay as they are: this is what was sent, not what a mail program makes of it.
      const mail = await simpleParser(raw, {
        skipImageLinks: true,
        skipTextLinks: true,
        skipHtmlToText: true,
      })
      const message: InboxMessage = {
        id: ++last,
        receivedAt: receivedAt.toISOString(),
        ...(mail.date && { sentAt: mail.date.toISOString() }),
        subject: mail.subject ?? '',
        from: mail.from?.text ?? '',
        to: [...to],
        headers: headersOf(mail),
        text: mail.text ?? '',
        html: mail.html || '',
        raw: raw.toString('utf8'),
      }
      messages.push(message)
      if (file) appendFileSync(file, `${JSON.stringify(message)}\n`)
      if (messages.length > kept) messages.shift()
      return message
    },
    list({ to, search }) {
      const wanted = to?.toLowerCase()
      const typed = search?.toLowerCase() ?? ''
      return messages.filter(
        (message) =>
          (wanted === undefined || message.to.some((address) => address.toLowerCase() === wanted)) &&
          (typed === '' || `${message.subject} ${message.to.join(' ')}`.toLowerCase().includes(typed)),
      )
    },
    get: (id) => messages.find((message) => message.id === id),
    empty(to) {
      const gone = to.toLowerCase()
      messages = messages.filter((message) => message.to.some((address) => address.toLowerCase() !== gone))
      if (!file) return
      // Beside it, then in its place: a process that is killed meanwhile loses nobody's mail.
      const kept = messages.map((message) => `${JSON.stringify(message)}\n`).join('')
      writeFileSync(`${file}.new`, kept)
      renameSync(`${file}.new`, file)
    },
  }
}
