import { createTransport, type SendMailOptions } from 'nodemailer'
import { parseConnectionUrl } from 'nodemailer/lib/shared'
import type { Settings } from '../settings.ts'
import { openSmtpPool, type SmtpServer, type WireMessage } from './smtpPool.ts'

/** Ways out of the house: mail of rehearsal people has no way but to the test inbox. */
export interface Transports {
  send(mail: SendMailOptions, rehearsal: boolean): Promise<void>
  sendRaw(message: WireMessage, rehearsal: boolean): Promise<void>
  /** Does the mail server know addresses of any script? Unknown before it has answered. */
  knowsUtf8(): boolean | null
  close(): void
}

/** That a worker keeps to each mail server for what it sends in batches. */
export const connections = 6

/** Those for single messages that somebody waits for: a confirmation, a file. */
const singleConnections = 2

const patience = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 30_000 }

/** A way to one mail server, for what the library composes and for what we have composed ourselves. */
function openWay(server: SmtpServer): Omit<Transports, 'send' | 'sendRaw'> & {
  send: (mail: SendMailOptions) => Promise<void>
  sendRaw: (message: WireMessage) => Promise<void>
} {
  const options = { ...server, ...patience }
  const single = createTransport({ ...options, pool: true, maxConnections: singleConnections })
  const pool = openSmtpPool(options)
  return {
    async send(mail) {
      await single.sendMail(mail)
    },
    sendRaw: (message) => pool.send(message),
    knowsUtf8: () => pool.knowsUtf8(),
    close() {
      single.close()
      pool.close()
    },
  }
}

export function openTransports(settings: Settings): Transports {
  const standin = openWay({ host: '127.0.0.1', port: settings.smtpPort, ignoreTLS: true })
  const real = settings.smtpUrl ? openWay(parseConnectionUrl(settings.smtpUrl)) : standin
  return {
    send: (mail, rehearsal) => (rehearsal ? standin : real).send(mail),
    sendRaw: (message, rehearsal) => (rehearsal ? standin : real).sendRaw(message),
    knowsUtf8: () => real.knowsUtf8(),
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
