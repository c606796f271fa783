import { createTransport, type SendMailOptions } from 'nodemailer'
import type { Settings } from '../settings.ts'

/** Ways out of the house: mail of rehearsal people has no way but to the test inbox. */
export interface Transports {
  send(mail: SendMailOptions, rehearsal: boolean): Promise<void>
  close(): void
}

const patience = { connectionTimeout: 10_000, greetingTimeout: 10_000, socketTimeout: 30_000 }

export function openTransports(settings: Settings): Transports {
  const standin = createTransport({
    pool: true,
    maxConnections: 4,
    host: '127.0.0.1',
    port: settings.smtpPort,
    ignoreTLS: true,
    ...patience,
  })
  const real = settings.smtpUrl
    ? createTransport({ url: settings.smtpUrl, pool: true, maxConnections: 4, ...patience })
    : standin
  return {
    async send(mail, rehearsal) {
      await (rehearsal ? standin : real).sendMail(mail)
    },
    close() {
      standin.close()
      real.close()
    },
  }
}

/** What a mail server's refusal means. RFC 5321 §4.2.1: 5xx replies are permanent, all else may pass. */
export function readRefusal(error: unknown): { permanent: boolean; badAddress: boolean; words: string } {
  const { code, responseCode, message } = error as { code?: string; responseCode?: number; message?: string }
  const words = (message ?? String(error)).split('\n')[0]?.slice(0, 300) ?? ''
  if (responseCode === undefined) {
    const silent =
      code === 'ECONNREFUSED' || code === 'ESOCKET' || code === 'ETIMEDOUT' || code === 'ECONNECTION'
    return { permanent: false, badAddress: false, words: silent ? 'The mail server does not answer' : words }
  }
  const permanent = responseCode >= 500
  return { permanent, badAddress: permanent && code === 'EENVELOPE', words }
}
