import { Readable } from 'node:stream'
import SMTPConnection, { type SMTPConnectionOptions } from 'nodemailer/lib/smtp-connection'

/** A message as it goes over the wire, with its envelope. */
export interface WireMessage {
  from: string
  to: string
  raw: Buffer
}

/** Where a mail server is, and as whom we speak to it. */
export type SmtpServer = SMTPConnectionOptions & { auth?: { user?: string; pass?: string } | undefined }

/**
 * Kept connections to one mail server, each with one message at a time. They take messages that have been composed, and
 * nothing else: the library's own pool prepares any message anew, which takes more than sending it.
 */
export interface SmtpPool {
  /** @throws the server's refusal, or what became of the connection */
  send(message: WireMessage): Promise<void>
  /** Does the server know addresses of any script (SMTPUTF8)? Unknown before it has answered. */
  knowsUtf8(): boolean | null
  close(): void
}

const called = (work: (done: (error?: Error | null) => void) => void): Promise<void> =>
  new Promise((done, fail) => {
    work((error) => {
      if (error) fail(error)
      else done()
    })
  })

/** A connection that the server has answered on, and what is not to be used any more. */
interface Kept {
  connection: SMTPConnection
  broken: boolean
  /** Something has been sent on it: the server may have given it up since. */
  used: boolean
}

/** A message on its way, which knows whether the server has asked for it: only then can it have come through. */
class Outgoing extends Readable {
  begun = false
  readonly #raw: Buffer

  constructor(raw: Buffer) {
    super()
    this.#raw = raw
  }

  override _read(): void {
    this.begun = true
    this.push(this.#raw)
    this.push(null)
  }
}

/** The server has said no to the message; the connection itself is fine. */
const isRefusal = (error: unknown): boolean => {
  const { code, responseCode } = error as { code?: string; responseCode?: number }
  return (code === 'EENVELOPE' || code === 'EMESSAGE') && responseCode !== undefined && responseCode !== 421
}

export function openSmtpPool({ auth, ...server }: SmtpServer): SmtpPool {
  const idle: Kept[] = []
  let closed = false
  let utf8: boolean | null = null

  async function open(): Promise<Kept> {
    const connection = new SMTPConnection(server)
    const kept: Kept = { connection, broken: false, used: false }
    await new Promise<void>((done, fail) => {
      connection.on('error', (error: Error) => {
        kept.broken = true
        fail(error)
      })
      connection.on('end', () => {
        kept.broken = true
        fail(Object.assign(new Error('The connection was closed'), { code: 'ECONNECTION' }))
      })
      connection.connect((error) => {
        if (error) fail(error)
        else done()
      })
    })
    // What it offers, as it says after EHLO (RFC 5321 §4.1.1.1).
    utf8 = /[ -]SMTPUTF8\b/i.test(String(connection.lastServerResponse))
    if (auth?.user) await called((done) => connection.login(auth, done))
    return kept
  }

  function take(): Kept | undefined {
    for (;;) {
      const kept = idle.pop()
      if (!kept?.broken) return kept
    }
  }

  function giveBack(kept: Kept): void {
    if (kept.broken) return
    if (closed) kept.connection.quit()
    else idle.push(kept)
  }

  async function sendOn(kept: Kept, from: string, to: string, outgoing: Outgoing): Promise<void> {
    try {
      await called((done) => kept.connection.send({ from, to: [to] }, outgoing, done))
      kept.used = true
    } catch (error) {
      if (isRefusal(error) && !kept.broken)
        await called((done) => kept.connection.reset(done)).catch(() => kept.connection.close())
      else {
        kept.broken = true
        kept.connection.close()
      }
      throw error
    }
  }

  return {
    knowsUtf8: () => utf8,
    async send({ from, to, raw }) {
      for (;;) {
        const kept = take() ?? (await open())
        const { used } = kept
        const outgoing = new Outgoing(raw)
        try {
          await sendOn(kept, from, to, outgoing)
          return
        } catch (error) {
          // A kept connection that the server has given up meanwhile took nothing: another one is tried at once.
          if (!used || outgoing.begun || isRefusal(error)) throw error
        } finally {
          giveBack(kept)
        }
      }
    },
    close() {
      closed = true
      for (const { connection } of idle.splice(0)) connection.quit()
    },
  }
}
