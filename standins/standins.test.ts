import { mkdtemp, readFile, rm, writeFile, appendFile } from 'node:fs/promises'
import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createTransport, type Transporter } from 'nodemailer'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { createMailServer } from './mailServer.ts'
import { createMailbox, type Mailbox } from './mailbox.ts'

const at = new Date('2026-11-24T10:00:00Z')
let mailbox: Mailbox
let server: ReturnType<typeof createMailServer>
let transport: Transporter
beforeEach(async () => {
  mailbox = createMailbox(null)
  server = createMailServer(mailbox, () => at)
  const probe = createServer()
  await new Promise<void>((done) => probe.listen(0, '127.0.0.1', done))
  const { port } = probe.address() as AddressInfo
  await new Promise((done) => probe.close(done))
  await new Promise<void>((done) => server.listen(port, '127.0.0.1', done))
  transport = createTransport({ host: '127.0.0.1', port, secure: false, ignoreTLS: true })
})
afterEach(async () => {
  transport.close()
  await new Promise<void>((done) => server.close(() => done()))
})

const send = (to: string, part = {}) =>
  transport.sendMail({
    from: 'Mara <mara@quillfeather.example>',
    to,
    subject: 'Grüße, “with” letters',
    text: 'See https://quillfeather.example/p/x?a=1&b=2',
    html: '<p>See <a href="https://quillfeather.example/">this</a></p>',
    ...part,
  })

describe('the stand-in mail server', () => {
  it('keeps what it took as it came, with headers unfolded and letters read (RFC 2047, RFC 5322 §2.2.3)', async () => {
    await send('nia@postbox.test', { headers: { 'X-Long': 'word '.repeat(40).trim() } })
    const [message] = mailbox.list({})
    expect(message).toMatchObject({
      id: 1,
      receivedAt: at.toISOString(),
      subject: 'Grüße, “with” letters',
      to: ['nia@postbox.test'],
    })
    expect(message?.headers['x-long']).toBe('word '.repeat(40).trim())
    expect(message?.text).toContain('https://quillfeather.example/p/x?a=1&b=2')
    expect(message?.raw).toMatch(/^Subject: =\?UTF-8\?/m)
  })

  it('refuses for good whom it does not know, and for now whose mailbox is full (RFC 3463: 5.x.x, 4.x.x)', async () => {
    await expect(send('no-such-person@postbox.test')).rejects.toMatchObject({ responseCode: 550 })
    await expect(send('full-mailbox@postbox.test')).rejects.toMatchObject({ responseCode: 452 })
    expect(mailbox.list({})).toEqual([])
  })

  it.each(['constructor', '__proto__', 'toString'])('takes mail to %s as to anybody', async (name) => {
    await send(`${name}@postbox.test`)
    expect(mailbox.list({ to: `${name}@postbox.test` })).toHaveLength(1)
  })

  it('finds messages by who got them and by what they are about', async () => {
    await send('nia@postbox.test')
    await send('Bram@postbox.test', { subject: 'Paper grain' })
    expect(mailbox.list({ to: 'bram@POSTBOX.test' }).map(({ subject }) => subject)).toEqual(['Paper grain'])
    expect(mailbox.list({ search: 'GRAIN' })).toHaveLength(1)
    expect(mailbox.list({ search: 'nia@' })).toHaveLength(1)
    expect(mailbox.get(2)?.subject).toBe('Paper grain')
    expect(mailbox.get(3)).toBeUndefined()
  })
})

describe('the mailbox of an install', () => {
  const raw = Buffer.from('From: a@b.test\r\nTo: c@d.test\r\nSubject: Kept\r\n\r\nText\r\n')

  it('is there again after a restart, also when the last line was cut off by a crash', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'nurtel-mailbox-'))
    const file = join(folder, 'inbox.jsonl')
    const first = createMailbox(file)
    await first.take(raw, ['c@d.test'], at)
    await first.take(raw, ['e@f.test'], at)
    await appendFile(file, '{"id": 3, "subj')
    const second = createMailbox(file)
    expect(second.list({}).map(({ id, to }) => [id, to[0]])).toEqual([
      [1, 'c@d.test'],
      [2, 'e@f.test'],
    ])
    expect((await second.take(raw, ['g@h.test'], at)).id).toBe(3)
    expect((await readFile(file, 'utf8')).trim().split('\n').length).toBeGreaterThan(2)
    await rm(folder, { recursive: true })
  })

  it('of one address is emptied for good, and nobody else’s', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'nurtel-mailbox-'))
    const file = join(folder, 'inbox.jsonl')
    const first = createMailbox(file)
    await first.take(raw, ['c@d.test'], at)
    await first.take(raw, ['e@f.test'], at)
    await first.take(raw, ['C@D.test', 'e@f.test'], at)
    first.empty('c@D.TEST')
    for (const mailbox of [first, createMailbox(file)])
      expect(mailbox.list({}).map(({ id, to }) => [id, to])).toEqual([
        [2, ['e@f.test']],
        // It went to somebody else as well.
        [3, ['C@D.test', 'e@f.test']],
      ])
    expect((await first.take(raw, ['g@h.test'], at)).id).toBe(4)
    await rm(folder, { recursive: true })
  })

  it('that cannot be read begins empty', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'nurtel-mailbox-'))
    await writeFile(join(folder, 'inbox.jsonl'), 'no JSON\n\n[]\n')
    expect(createMailbox(join(folder, 'inbox.jsonl')).list({})).toEqual([])
    await rm(folder, { recursive: true })
  })
})
