import { createTransport, type SendMailOptions } from 'nodemailer'
import type { Settings } from '../settings.ts'

/** A message as it goes over the wire, with its envelope. */
export interface WireMessage {
  from: string
  to: string
  raw: Buffer
}

/** Ways out of the house: mail of rehearsal people has no way but to the test inbox. */
export interface Transports {
  send(mail: SendMailOptions, rehearsal: boolean): Promise<void>
  sendRaw(message: WireMessage, rehearsal: boolean): Promise<void>
  close(): void
}

/** To each mail server. */
export const connections = 5

const pooled = { pool: true, maxConnections: connections, maxMessages: Infinity } as const
const patience = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 30_000 }

export function openTransports(settings: Settings): Transports {
  const standin = createTransport({
    ...pooled,
    host: '127.0.0.1',
    port: settings.smtpPort,
    ignoreTLS: true,
    ...patience,
  })
  const real = settings.smtpUrl ? createTransport({ url: settings.smtpUrl, ...pooled, ...patience }) : standin
  return {
    async send(mail, rehearsal) {
      await (rehearsal ? standin : real).sendMail(mail)
    },
    async sendRaw({ from, to, raw }, rehearsal) {
      await (rehearsal ? standin : real).sendMail({ envelope: { from, to }, raw })
    },
    close() {
      standin.close()
      real.close()
    },
  }
}

/** What it means that a message was not taken. */
interface Refusal {
  /** RFC 5321 §4.2.1: 5xx replies are permanent, all else may pass. */
  permanent: boolean
  badAddress: boolean
  /** Nobody said no: the connection was lost, or none came about. */
  away: boolean
  words: string
}

export function readRefusal(error: unknown): Refusal {
  const { code, responseCode, message } = error as { code?: string; responseCode?: number; message?: string }
  const words = (message ?? String(error)).split('\n')[0]?.slice(0, 300) ?? ''
  if (responseCode === undefined) {
    const silent =
      code === 'ECONNREFUSED' || code === 'ESOCKET' || code === 'ETIMEDOUT' || code === 'ECONNECTION'
    return {
      permanent: false,
      badAddress: false,
      away: silent,
      words: silent ? 'The mail server does not answer' : words,
    }
  }
  const permanent = responseCode >= 500
  return { permanent, badAddress: permanent && code === 'EENVELOPE', away: false, words }
}
