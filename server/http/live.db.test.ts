import { afterAll, beforeAll, expect, it } from 'vitest'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn } from '../../testing/marketer.ts'
import { postForm } from '../../testing/visitor.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

/** Signs in and opens the stream of changes, as a screen does. */
const openStream = async () => {
  const marketer = await signedIn(install.url)
  const stop = new AbortController()
  const stream = await fetch(`${install.url}/api/live`, {
    headers: { cookie: marketer.cookie },
    signal: stop.signal,
  })
  expect(stream.headers.get('content-type')).toBe('text/event-stream')
  return { marketer, stop, reader: stream.body!.pipeThrough(new TextDecoderStream()).getReader() }
}

it('tells an open screen at once what has changed', async () => {
  const { stop, reader } = await openStream()
  await postForm(install.url, { address: 'seen@postbox.test' })
  let heard = ''
  while (!heard.includes('data: audience')) heard += (await reader.read()).value ?? ''
  // The shape of server-sent events: WHATWG HTML standard, "Interpreting an event stream".
  expect(heard).toMatch(/event: change\ndata: audience\n\n/)
  stop.abort()
})

it('ends the stream when its sign-in ends, and no other', async () => {
  const [leaving, staying] = [await openStream(), await openStream()]
  expect((await leaving.marketer.post('/auth/sign-out')).status).toBe(204)
  for (;;) if ((await leaving.reader.read()).done) break

  await postForm(install.url, { address: 'later@postbox.test' })
  let heard = ''
  while (!heard.includes('data: audience')) heard += (await staying.reader.read()).value ?? ''
  await expect(leaving.marketer.get('/auth/me')).rejects.toThrow('401')
  staying.stop.abort()
})
