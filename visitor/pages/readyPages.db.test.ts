import { get, type IncomingMessage } from 'node:http'
import { gunzipSync } from 'node:zlib'
import { beforeAll, describe, expect, it } from 'vitest'
import { composer } from '../../core/blocks/compose.ts'
import { numberedIds } from '../../testing/documents.ts'
import { computer, lookAt, publish, publishForm } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { block, text } = composer(numberedIds('ready'))

/** The bytes of an answer as they come over the wire. */
const raw = (
  path: string,
  headers: Record<string, string>,
): Promise<{ answer: IncomingMessage; body: Buffer }> =>
  new Promise((resolve, reject) => {
    get(`${on.install.url}${path}`, { headers: { 'user-agent': computer, ...headers } }, (answer) => {
      const pieces: Buffer[] = []
      answer.on('data', (piece: Buffer) => pieces.push(piece))
      answer.on('end', () => resolve({ answer, body: Buffer.concat(pieces) }))
    }).on('error', reject)
  })

describe('a page that is ready', () => {
  beforeAll(async () => {
    await publish(on, 'ready', [text('Ready words')])
    await publish(on, 'ready-form', [block('form', { form: await publishForm(on) })])
  })

  it.each(['/p/ready', '/p/ready-form'])(
    'is the same the first time and later, plain and compressed (%s)',
    async (path) => {
      const secret = /value="[\w.-]{60,}"/g
      const answers = []
      for (const encoding of ['identity', 'gzip', 'identity', 'gzip;q=0', 'br, gzip'])
        answers.push(await raw(path, { 'accept-encoding': encoding }))
      const markups = answers.map(({ answer, body }) =>
        (answer.headers['content-encoding'] === 'gzip' ? gunzipSync(body) : body).toString(),
      )
      expect(answers.map(({ answer }) => answer.headers['content-encoding'])).toEqual([
        undefined,
        'gzip',
        undefined,
        undefined,
        'gzip',
      ])
      expect(new Set(markups.map((markup) => markup.replace(secret, ''))).size).toBe(1)
      const names = ({ answer }: { answer: IncomingMessage }): string[] =>
        Object.keys(answer.headers)
          .filter((name) => name !== 'content-encoding')
          .sort()
      // Every layer's headers, whichever way the answer took.
      for (const each of answers) expect(names(each)).toEqual(names(answers[0]!))
      expect(names(answers[2]!)).toContain('x-content-type-options')
      expect(answers[4]!.answer.headers['vary']).toBe('Accept-Encoding')
    },
  )

  it('gives each view a token of its own', async () => {
    const tokens = new Set<string>()
    for (let i = 0; i < 5; i += 1)
      tokens.add(
        /name="token" value="([^"]+)"/.exec(
          await (await lookAt(`${on.install.url}/p/ready-form`)).text(),
        )![1]!,
      )
    expect(tokens.size).toBe(5)
  })

  it('is kept for nobody who is known, who asks with another method, or under another spelling', async () => {
    const known = await lookAt(`${on.install.url}/p/ready`, { cookie: 'reader=somebody' })
    expect(known.headers.get('cache-control')).toBe('private, no-store')
    const posted = await fetch(`${on.install.url}/p/ready`, { method: 'PUT' })
    expect(posted.status).toBe(404)
    expect((await lookAt(`${on.install.url}/p/ready?utm_source=x`)).status).toBe(200)
    expect((await lookAt(`${on.install.url}/p//ready`)).status).toBe(404)
  })
})

describe('two web processes', () => {
  let url = ''
  beforeAll(async () => {
    url = (await on.install.startWeb()).url
  })

  it('both show what is published through one of them as soon as it is announced, and what is archived no more', async () => {
    const words = block('heading', { words: 'First words' })
    const page = await publish(on, 'two', [words])
    const there = async (): Promise<string> => (await lookAt(`${url}/p/two`)).text()
    expect(await there()).toContain('First words')
    const { content, version, revision } = await on.mara.get<{
      content: object
      version: number
      revision: number
    }>(`/pages/${page}`)
    const changed = JSON.parse(JSON.stringify(content).replace('First words', 'Second words')) as object
    const saved = await on.mara.post(`/pages/${page}/save`, { version, revision, content: changed })
    const place = (await saved.json()) as { version: number; revision: number }
    await on.mara.post(`/pages/${page}/publish`, { version: place.version, revision: place.revision })
    await eventually(async () => (await there()).includes('Second words'))
    await eventually(async () =>
      (await (await lookAt(`${on.install.url}/p/two`)).text()).includes('Second words'),
    )
    await on.mara.post(`/pages/${page}/archive`, { archived: true })
    await eventually(async () => (await lookAt(`${url}/p/two`)).status === 404)
  })
})
