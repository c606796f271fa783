import { createHash, randomBytes } from 'node:crypto'
import { mkdtemp, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import type { FileView } from '../../contract/pages.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'
import { downloadUrl } from './downloads.ts'
import { safeFileName, storeFile } from './files.ts'

const on = useInstall()
const day = 86_400_000
const doing = () => ({ by: 'Mara', at: new Date(on.install.clock.now()) })

async function upload(name: string, content: Buffer, replaces?: number): Promise<Response> {
  const query = new URLSearchParams({ name, ...(replaces !== undefined && { replaces: String(replaces) }) })
  return on.mara.send(`/files/upload?${query}`, content)
}
const stored = async (name: string, content: Buffer, replaces?: number): Promise<number> =>
  (await made<{ id: number }>(upload(name, content, replaces))).id
const fileOf = async (id: number): Promise<FileView> =>
  (await on.mara.get<FileView[]>('/files')).find((each) => each.id === id)!
const hash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')
const pieces = async (): Promise<number> =>
  (await on.q.row<{ count: number }>('select count(*) count from file_piece'))!.count

describe('a file', () => {
  it.each([0.2, 1, 3.7])('of %d pieces comes out as it went in', async (share) => {
    const bytes = randomBytes(Math.round(share * 64 * 1024))
    const id = await stored('noise.bin', bytes)
    const answer = await fetch(downloadUrl(on.install.platform, id, null))
    expect(hash(Buffer.from(await answer.arrayBuffer()))).toBe(hash(bytes))
    expect(answer.headers.get('content-length')).toBe(String(bytes.length))
    expect((await fileOf(id)).size).toBe(bytes.length)
  })

  it('is told by its content, whatever its name says, and offered for saving only', async () => {
    const id = await stored(
      'harmless.txt',
      await sharp({ create: { width: 9, height: 9, channels: 3, background: 'red' } })
        .png()
        .toBuffer(),
    )
    expect((await fileOf(id)).mediaType).toBe('image/png')
    const page = await stored('page.html', Buffer.from('<script>alert(1)</script>'))
    const answer = await fetch(downloadUrl(on.install.platform, page, null))
    expect(answer.headers.get('content-type')).toBe('application/octet-stream')
    expect(answer.headers.get('content-disposition')).toBe('attachment; filename=page.html')
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff')
  })

  it.each([
    ['../../etc/passwd', '-..-etc-passwd'],
    ['C:\\temp\\a.pdf', 'C--temp-a.pdf'],
    ['gu\u202eide\u0000.pdf', 'guide.pdf'],
    ['...', 'file'],
    ['Führer durch die Werkstatt.pdf', 'Führer durch die Werkstatt.pdf'],
  ])('called %j is called %j', (name, safe) => expect(safeFileName(name)).toBe(safe))

  it('that is empty or too large is refused, and nothing of it stays', async () => {
    const before = await pieces()
    const empty = await upload('empty.pdf', Buffer.alloc(0))
    expect([empty.status, await empty.text()]).toEqual([422, expect.stringContaining('Choose another one')])
    const endless = Readable.from(Array.from({ length: 101 }, () => Buffer.alloc(1024 * 1024)))
    await expect(
      storeFile(on.install.platform, { name: 'large.bin', bytes: endless }, doing()),
    ).rejects.toMatchObject({
      status: 413,
    })
    expect(await pieces()).toBe(before)
  })

  it('whose upload breaks off leaves nothing', async () => {
    const before = await pieces()
    const broken = Readable.from(
      (function* (): Generator<Buffer> {
        yield Buffer.alloc(600_000)
        throw new Error('the browser went away')
      })(),
    )
    await expect(
      storeFile(on.install.platform, { name: 'half.bin', bytes: broken }, doing()),
    ).rejects.toThrow('went away')
    expect(await pieces()).toBe(before)
  })

  it('is looked through by a scanner before anybody gets it', async () => {
    const bytes = [Buffer.from('bad')] as unknown as AsyncIterable<Buffer>
    const scanner = { faultOf: () => Promise.resolve('It holds something bad.') }
    await expect(
      storeFile(on.install.platform, { name: 'a.txt', bytes }, doing(), scanner),
    ).rejects.toMatchObject({
      status: 422,
    })
  })

  it('twice at once under one name is two files, each whole', async () => {
    const contents = [randomBytes(700_000), randomBytes(700_000)]
    const ids = await Promise.all(contents.map((content) => stored('same.bin', content)))
    expect(new Set(ids).size).toBe(2)
    for (const [i, id] of ids.entries()) {
      const answer = await fetch(downloadUrl(on.install.platform, id, null))
      expect(hash(Buffer.from(await answer.arrayBuffer()))).toBe(hash(contents[i]!))
    }
  })

  it('has versions: links lead to the newest, and to an earlier one when that is wished', async () => {
    const id = await stored('v.txt', Buffer.from('first'))
    const link = downloadUrl(on.install.platform, id, null)
    await stored('v2.txt', Buffer.from('second'), id)
    expect(await (await fetch(link)).text()).toBe('second')
    expect((await fileOf(id)).versions.map(({ number, name, current }) => [number, name, current])).toEqual([
      [2, 'v2.txt', true],
      [1, 'v.txt', false],
    ])
    await on.mara.post(`/files/${id}/use-version`, { version: 1 })
    expect(await (await fetch(link)).text()).toBe('first')
    expect((await on.mara.post(`/files/${id}/use-version`, { version: 9 })).status).toBe(404)
    expect((await on.mara.post(`/files/${id}/delete`)).status).toBe(204)
    expect((await fetch(link)).status).toBe(404)
  })

  it('shows a small picture of itself: of a picture always, of a PDF where a tool is there', async () => {
    const drawing = await sharp({ create: { width: 900, height: 300, channels: 3, background: 'navy' } })
      .jpeg()
      .toBuffer()
    const id = await stored('drawing.jpg', drawing)
    await eventually(async () => (await fileOf(id)).hasPreview)
    const preview = await sharp(
      Buffer.from(await (await on.mara.download(`/files/${id}/preview`)).arrayBuffer()),
    ).metadata()
    expect([preview.format, preview.width, preview.height]).toEqual(['jpeg', 480, 160])

    // A tool that draws, as one that is installed would.
    const folder = await mkdtemp(join(tmpdir(), 'nurtel-tool-'))
    await writeFile(join(folder, 'page.jpg'), drawing)
    const tool = `#!/bin/sh\nfor last; do :; done\ncp ${join(folder, 'page.jpg')} "$last.jpg"\n`
    await writeFile(join(folder, 'pdftoppm'), tool, { mode: 0o755 })
    const path = process.env.PATH
    process.env.PATH = `${folder}:${path}`
    try {
      const pdf = await stored('guide.pdf', Buffer.from('%PDF-1.4\n%%EOF'))
      await eventually(async () => (await fileOf(pdf)).hasPreview)
    } finally {
      process.env.PATH = path
    }
  })
})

describe('a stretch of a file', () => {
  const bytes = randomBytes(600_000)
  it.each([
    ['bytes=0-9', 206, [0, 10]],
    ['bytes=262140-262150', 206, [262_140, 262_151]],
    ['bytes=599990-', 206, [599_990, 600_000]],
    ['bytes=-5', 206, [599_995, 600_000]],
    ['bytes=700000-', 416, null],
    ['bytes=nonsense', 200, [0, 600_000]],
  ] as const)('%s is answered with %d (RFC 9110 §14)', async (range, status, part) => {
    const id = await stored('stretch.bin', bytes)
    const answer = await fetch(downloadUrl(on.install.platform, id, null), { headers: { range } })
    expect(answer.status).toBe(status)
    if (part) expect(hash(Buffer.from(await answer.arrayBuffer()))).toBe(hash(bytes.subarray(...part)))
    else expect(answer.headers.get('content-range')).toBe('bytes */600000')
  })
})

describe('a signed link', () => {
  it('counts once for one person, however many goes a program takes', async () => {
    const id = await stored('counted.bin', randomBytes(300_000))
    const who = await on.add('takes@postbox.test')
    const link = downloadUrl(on.install.platform, id, who)
    await fetch(link, { method: 'HEAD' })
    for (const range of ['bytes=0-99', 'bytes=100-', 'bytes=0-']) await lookAt(link, { range })
    expect(await fileOf(id)).toMatchObject({ downloads: 1, people: 1 })
    on.install.clock.move(61_000)
    await lookAt(link)
    expect(await fileOf(id)).toMatchObject({ downloads: 2, people: 1 })
  })

  it('is good for so many downloads; then an email brings a new one, a few times a day', async () => {
    const id = await stored('thrice.txt', Buffer.from('words'))
    await on.mara.post(`/files/${id}/edit`, { name: 'thrice.txt', linkDays: 30, mostDownloads: 2 })
    const who = await on.add('often@postbox.test', { firstName: 'Ada' })
    const link = downloadUrl(on.install.platform, id, who)
    for (let i = 0; i < 2; i += 1) {
      expect((await fetch(link)).status).toBe(200)
      on.install.clock.move(61_000)
    }
    const over = await fetch(link)
    expect([over.status, await over.text()]).toEqual([410, expect.stringContaining('as often as it can be')])
    for (let i = 0; i < 5; i += 1) await fetch(link, { method: 'POST' })
    const mails = await mailFor(on.install, 'often@postbox.test', 3)
    await new Promise((done) => setTimeout(done, 300))
    expect(on.install.mail.standins!.mailbox.list({ to: 'often@postbox.test' })).toHaveLength(3)
    const fresh = /https?:\S+\/files\/\S+/.exec(mails[0]!.text)![0]
    expect(await (await fetch(fresh)).text()).toBe('words')
  })

  it('expires after its days; who holds one that was made for nobody learns nothing', async () => {
    const id = await stored('days.txt', Buffer.from('words'))
    const who = await on.add('late@postbox.test')
    const links = [downloadUrl(on.install.platform, id, who), downloadUrl(on.install.platform, id, null)]
    on.install.clock.move(30 * day + 1)
    const told = []
    for (const link of links) {
      expect((await fetch(link)).status).toBe(410)
      told.push((await (await fetch(link, { method: 'POST' })).text()).replace(/nonce="[^"]+"/, ''))
    }
    expect(told[0]).toBe(told[1])
    expect(await mailFor(on.install, 'late@postbox.test')).toHaveLength(1)
  })

  it.each(['nonsense', 'bm90LW1pbmU.AAAAAAAAAAAAAAAAAAAAAA'])(
    'that is none (%s) leads nowhere',
    async (token) => {
      expect((await fetch(`${on.install.url}/files/${token}`)).status).toBe(404)
    },
  )
})
