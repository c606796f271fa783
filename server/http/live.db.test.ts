import { afterAll, beforeAll, expect, it } from 'vitest'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { account } from '../../testing/install.ts'
import { postForm } from '../../testing/visitor.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

it('tells an open screen at once what has changed', async () => {
  const door = await fetch(`${install.url}/api/auth/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(account),
  })
  const cookie = door.headers.get('set-cookie')?.split(';')[0] ?? ''
  const stop = new AbortController()
  const stream = await fetch(`${install.url}/api/live`, { headers: { cookie }, signal: stop.signal })
  expect(stream.headers.get('content-type')).toBe('text/event-stream')
  const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader()

  await postForm(install.url, { address: 'seen@postbox.test' })
  let heard = ''
  while (!heard.includes('data: audience')) heard += (await reader.read()).value ?? ''
  // The shape of server-sent events: WHATWG HTML standard, "Interpreting an event stream".
  expect(heard).toMatch(/event: change\ndata: audience\n\n/)
  stop.abort()
})
