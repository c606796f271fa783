import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, type AddressInfo, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { SMTPServer } from 'smtp-server'
import { afterEach, describe, expect, it } from 'vitest'
import { nextTry, triedFor } from '../../core/email/retries.ts'
import { causeOf } from '../../core/email/causes.ts'
import { openHandedOver } from './sending/handedOver.ts'
import { openSmtpPool, type SmtpPool } from './smtpPool.ts'
import { readRefusal } from './transport.ts'

const ends: (() => unknown)[] = []
afterEach(async () => {
  for (const end of ends.splice(0).reverse()) await end()
})

const message = (to: string) => ({
  from: 'mara@quillfeather.example',
  to,
  raw: Buffer.from(`Subject: to ${to}\r\n\r\n.a line that begins with a dot\r\n`),
})

/** A mail server that refuses who is called so, with the pool that speaks to it. */
async function openServer(): Promise<{
  pool: SmtpPool
  taken: string[]
  connections: Set<string>
  server: SMTPServer
}> {
  const taken: string[] = []
  const connections = new Set<string>()
  const server = new SMTPServer({
    disabledCommands: ['AUTH', 'STARTTLS'],
    onConnect: ({ id }, done) => {
      connections.add(id)
      done()
    },
    onRcptTo: ({ address }, _session, done) =>
      done(
        address.startsWith('nobody') ? Object.assign(new Error('5.1.1 none'), { responseCode: 550 }) : null,
      ),
    onData(stream, _session, done) {
      let words = ''
      stream.on('data', (piece: Buffer) => (words += piece.toString()))
      stream.on('end', () => {
        taken.push(words)
        done()
      })
    },
  })
  const { port } = await new Promise<AddressInfo>((done) => {
    const listening = server.listen(0, '127.0.0.1', () => done(listening.address() as AddressInfo))
  })
  const pool = openSmtpPool({ host: '127.0.0.1', port, ignoreTLS: true })
  ends.push(
    () => new Promise<void>((done) => server.close(() => done())),
    () => pool.close(),
  )
  return { pool, taken, connections, server }
}

describe('the connections to a mail server', () => {
  it('are kept, and messages come through as they are', async () => {
    const { pool, taken, connections } = await openServer()
    for (const n of [1, 2, 3]) await pool.send(message(`r${n}@postbox.test`))
    expect(connections.size).toBe(1)
    expect(taken).toHaveLength(3)
    expect(taken[0]).toContain('\r\n.a line that begins with a dot\r\n')
    await Promise.all([1, 2, 3].map((n) => pool.send(message(`s${n}@postbox.test`))))
    expect(taken).toHaveLength(6)
  })

  it('go on after a refusal, which says what it was', async () => {
    const { pool, taken, connections } = await openServer()
    const refused = await pool.send(message('nobody@postbox.test')).catch(readRefusal)
    expect(refused).toMatchObject({ permanent: true, badAddress: true, away: false })
    await pool.send(message('somebody@postbox.test'))
    expect(taken).toHaveLength(1)
    expect(connections.size).toBe(1)
  })

  it('are opened anew when the server has dropped one in between', async () => {
    const { pool, taken, server } = await openServer()
    await pool.send(message('first@postbox.test'))
    for (const connection of server.connections as Set<{ close(): void }>) connection.close()
    await pool.send(message('second@postbox.test'))
    expect(taken).toHaveLength(2)
  })

  it('that are not there are no refusal', async () => {
    const pool = openSmtpPool({ host: '127.0.0.1', port: 1, ignoreTLS: true })
    const refused = await pool.send(message('x@postbox.test')).catch(readRefusal)
    expect(refused).toMatchObject({ permanent: false, away: true })
  })

  it('that break off in the middle of a message are no refusal, and it is not sent twice by itself', async () => {
    const sockets: Socket[] = []
    let begun = 0
    const rude = createServer((socket) => {
      sockets.push(socket)
      socket.on('error', () => undefined)
      socket.write('220 hello\r\n')
      socket.on('data', (piece) => {
        const line = piece.toString()
        if (line.startsWith('DATA')) {
          begun += 1
          socket.write('354 go on\r\n', () => socket.destroy())
        } else socket.write('250 ok\r\n')
      })
    })
    await new Promise<void>((done) => rude.listen(0, '127.0.0.1', done))
    ends.push(
      () => rude.close(),
      () => sockets.forEach((socket) => socket.destroy()),
    )
    const pool = openSmtpPool({
      host: '127.0.0.1',
      port: (rude.address() as AddressInfo).port,
      ignoreTLS: true,
    })
    const refused = await pool.send(message('x@postbox.test')).catch(readRefusal)
    expect(refused).toMatchObject({ permanent: false })
    expect(begun).toBe(1)
  })
})

describe('what was handed over', () => {
  it('is known to whoever comes after a worker that was killed, up to the last whole line', () => {
    const folder = mkdtempSync(join(tmpdir(), 'nurtel-handed-'))
    ends.push(() => rmSync(folder, { recursive: true }))
    const mine = openHandedOver(folder, 'one')
    mine.add(7)
    mine.add(8)
    mine.told([7])
    writeFileSync(join(folder, 'sending', 'killed.handed-over'), '11\n12\n1')
    expect([...openHandedOver(folder, 'two').all()].sort((a, b) => a - b)).toEqual([7, 8, 11, 12])
    mine.told([8])
    expect(mine.all()).toEqual(new Set([11, 12]))
    mine.close()
  })
})

describe('a message that is not taken', () => {
  it('is tried after longer and longer pauses, for two days', () => {
    const start = Date.parse('2026-11-27T09:00:00Z')
    let [now, attempts] = [start, 0]
    const pauses: number[] = []
    for (;;) {
      attempts += 1
      const next = nextTry(attempts, start, now)
      if (next === null) break
      pauses.push(next - now)
      now = next
    }
    expect(pauses[0]).toBe(10_000)
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b))
    expect(now - start).toBeLessThanOrEqual(triedFor)
    expect(now - start).toBeGreaterThan(triedFor - 3 * 3_600_000)
  })

  it.each([
    ["Can't send mail: 550 5.1.1 No such mailbox here", 'The address does not exist', true],
    ['452 4.2.2 The mailbox is full', 'The mailbox is full', true],
    ['Not taken for 2 days: The mail server does not answer', 'The mail server did not take it', true],
    ['the email is a draft: publish it first', 'The email is a draft', true],
    ['the person is unsubscribed', 'The person does not want it, or was never asked', false],
    ['Mara Ellery stopped the broadcast', 'The broadcast was stopped', false],
    ['Mara Ellery cancelled it', 'Cancelled by hand', true],
    ['554 something odd', 'Other reasons', true],
  ])('has a cause: %s', (reason, title, again) => {
    expect(causeOf(reason)).toMatchObject({ title, again })
  })
})

describe('addresses with letters of any script', () => {
  // RFC 6531 §3.1: a server that takes them says so by SMTPUTF8 after EHLO.
  it.each([true, false])('are known to be taken by the server or not: hidden %s', async (hideSMTPUTF8) => {
    const server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      hideSMTPUTF8,
      onData: (stream, _session, done) => {
        stream.on('data', () => undefined)
        stream.on('end', () => done())
      },
    })
    const { port } = await new Promise<AddressInfo>((done) => {
      const listening = server.listen(0, '127.0.0.1', () => done(listening.address() as AddressInfo))
    })
    const pool = openSmtpPool({ host: '127.0.0.1', port, ignoreTLS: true })
    ends.push(() => new Promise<void>((done) => server.close(done)))
    ends.push(() => pool.close())
    expect(pool.knowsUtf8()).toBeNull()
    await pool.send(message('anna@bench.test'))
    expect(pool.knowsUtf8()).toBe(!hideSMTPUTF8)
  })
})
