import { afterAll, beforeAll, expect, it } from 'vitest'
import { onServer } from '../../testing/databases.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { postForm, tokenOf } from '../../testing/visitor.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall({ NURTEL_PUBLIC_RATE: '3' })
})
afterAll(() => install.close())

it('slows an address down that posts too often, and says when to try again', async () => {
  const token = await tokenOf(install.url)
  const answers = []
  for (let i = 0; i < 4; i += 1) answers.push(await postForm(install.url, { token, address: 'none' }))
  expect(answers.map(({ status }) => status)).toEqual([422, 422, 422, 429])
  expect(answers[3]?.headers.get('retry-after')).toBe('60')
  expect(await answers[3]?.text()).toContain('Please wait a minute')
})

it('says try again when the database is away, and works when it is back', async () => {
  const name = new URL(install.platform.settings.databaseUrl).pathname.slice(1)
  await onServer(`alter database ${name} with allow_connections false`)
  await onServer(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}'`)
  // What is in memory is still shown.
  expect((await fetch(`${install.url}/p/template-pack`)).status).toBe(200)
  const answer = await fetch(`${install.url}/p/template-pack/file`)
  expect(answer.status).toBe(503)
  expect(answer.headers.get('retry-after')).toBe('60')
  expect(await answer.text()).toContain('Please wait a minute, go back, and send it again')
  const health = await fetch(`${install.url}/healthz`)
  expect(health.status).toBe(503)
  expect(await health.json()).toMatchObject({ status: 'impaired', database: 'down' })

  await onServer(`alter database ${name} with allow_connections true`)
  expect((await fetch(`${install.url}/p/template-pack`)).status).toBe(200)
})

// Last in this file: the models of an install stand on the database that was opened last.
it.each(['/go/none', '/seen/none', '/files/none', '/confirm/none'])(
  'slows down who asks %s too often: they write something',
  async (path) => {
    const here = await openInstall({ NURTEL_PUBLIC_RATE: '3' })
    const statuses = []
    for (let i = 0; i < 4; i += 1) statuses.push((await fetch(`${here.url}${path}`)).status)
    expect(statuses[3]).toBe(429)
    expect(statuses.slice(0, 3)).not.toContain(429)
    await here.close()
  },
)
