import { createServer, type Server, type ServerResponse } from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../testing/freePort.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { queueJobs } from './jobs.ts'

const on = useInstall()
const waiting: ServerResponse[] = []
let slow: Server
let port = 0

describe('a job whose worker was killed', () => {
  beforeAll(async () => {
    port = await freePort()
    // Somebody else's server, which takes its time: the job hangs as long as nobody is answered.
    slow = createServer((_request, response) => void waiting.push(response))
    await new Promise<void>((done) => slow.listen(port, '127.0.0.1', done))
  })
  afterAll(() => {
    for (const response of waiting) response.end()
    slow.close()
  })

  it('is done by another one, as soon as its heart has stopped', async () => {
    const contact = await on.add('hangs@postbox.test')
    const call = { contact, followup: 1, enrolment: 1, step: 'call', url: `http://127.0.0.1:${port}/`, at: 0 }
    await queueJobs(on.q, 'callWebhook', [call])
    await eventually(() => waiting.length === 1)
    const held = await on.q.row<{ by: string }>(
      `select locked_by by from graphile_worker._private_jobs where locked_at is not null`,
    )
    const known = await on.q.row<{ holders: string[] }>('select to_json(holders) holders from worker')
    expect(known?.holders).toContain(held?.by)
    // As a killed one leaves it: its last word is long ago, and what it held is still locked in its name.
    await on.q.rows(
      `insert into worker (id, started_at, seen_at, holders) values ('killed', now(), now() - interval '1 hour', $1)`,
      [[held?.by]],
    )
    await eventually(() => waiting.length === 2, 10_000)
  }, 15_000)
})
