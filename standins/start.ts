import type { Socket } from 'node:dgram'
import { createServer, type Server } from 'node:http'
import type { Server as NetServer } from 'node:net'
import { createCardGateway, type GatewayGiven } from './gateway/cardGateway.ts'
import { createInboxServer } from './inboxServer.ts'
import { createMailbox, type Mailbox } from './mailbox.ts'
import { createMailServer } from './mailServer.ts'
import { createOtherSite } from './otherSite.ts'
import { startNameServer } from './nameServer.ts'

export interface Standins {
  mailbox: Mailbox
  stop(): Promise<void>
}

/** Binds to loopback only. @throws the error of the system, EADDRINUSE when the port is taken */
function listening<T extends Server | NetServer>(server: T, port: number): Promise<T> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve(server))
  })
}

interface Given {
  /** Ports. */
  smtp: number
  http: number
  otherSite: number
  /** Where the other site's lines lead to, and who sells by the gateway. */
  origin: string
  gateway: { port: number } & Pick<GatewayGiven, 'key' | 'secret' | 'file' | 'lateAfter'>
  /** The file that mail is kept in. */
  inbox?: string | null
}

/**
 * Starts the small servers that play the outside world.
 * @param now the time that messages are marked with
 */
export async function startStandins(
  { smtp, http: httpPort, otherSite, origin, gateway, inbox = null }: Given,
  now: () => Date,
): Promise<Standins> {
  const mailbox = createMailbox(inbox)
  const mail = createMailServer(mailbox, now)
  // A client that breaks off says so here; the message was not taken, and that is all there is to it.
  mail.on('error', () => undefined)
  await listening(mail.server, smtp)
  const http = createServer(createInboxServer(mailbox))
  const other = createServer(createOtherSite(origin))
  const { port, ...known } = gateway
  const own = `http://127.0.0.1:${port}`
  const cards = createServer(createCardGateway({ own, shop: origin, ...known }, now))
  let names: Socket
  try {
    await listening(http, httpPort)
    await listening(other, otherSite)
    await listening(cards, port)
    names = await startNameServer(httpPort)
  } catch (error) {
    await new Promise<void>((done) => mail.close(done))
    http.close()
    other.close()
    cards.close()
    throw error
  }
  return {
    mailbox,
    async stop() {
      names.close()
      http.closeAllConnections()
      other.closeAllConnections()
      cards.closeAllConnections()
      await Promise.all([
        new Promise<void>((done) => mail.close(() => done())),
        new Promise<void>((done) => http.close(() => done())),
        new Promise<void>((done) => other.close(() => done())),
        new Promise<void>((done) => cards.close(() => done())),
      ])
    },
  }
}
