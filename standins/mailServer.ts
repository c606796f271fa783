import { SMTPServer } from 'smtp-server'
import type { Mailbox } from './mailbox.ts'

const largest = 30 * 1024 * 1024

/** Mail to these names is refused, as the outside world would: for trying out what happens then. */
const refusals = new Map([
  ['no-such-person', { code: 550, words: '5.1.1 No such mailbox here' }],
  ['full-mailbox', { code: 452, words: '4.2.2 The mailbox is full' }],
])

function refusal(address: string): (Error & { responseCode: number }) | undefined {
  const found = refusals.get(address.split('@')[0]?.toLowerCase() ?? '')
  return found && Object.assign(new Error(found.words), { responseCode: found.code })
}

/** A mail server that takes everything, sends nothing on, and keeps it in the mailbox. */
export function createMailServer(mailbox: Mailbox, now: () => Date): SMTPServer {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: largest,
    logger: false,
    onRcptTo: ({ address }, _session, done) => done(refusal(address)),
    onData(stream, session, done) {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        if (stream.sizeExceeded) {
          done(Object.assign(new Error('5.3.4 The message is too large'), { responseCode: 552 }))
          return
        }
        const to = session.envelope.rcptTo.map(({ address }) => address)
        mailbox.take(Buffer.concat(parts), to, now()).then(
          () => done(),
          (error: unknown) => done(error instanceof Error ? error : new Error(String(error))),
        )
      })
    },
  })
}
