import type { Database } from '../../server/database/connect.ts'
import { eventually } from '../../testing/waiting.ts'
import { measurable, start, type Measurable } from '../forms/processes.ts'
import type { Sunk } from './sink.ts'

const ports = { smtp: Number(process.env.NURTEL_SMTP_PORT), http: Number(process.env.BENCH_PG_PORT) }

/** The mail server that everything is sent to. */
export interface Sink {
  process: Measurable
  seen(): Promise<Sunk>
  /** Begins to count anew. */
  clear(): Promise<void>
}

export async function startSink(): Promise<Sink> {
  const url = `http://127.0.0.1:${ports.http}/`
  const child = start('bench/sending/sink.ts', [String(ports.smtp), String(ports.http)], {})
  await eventually(async () => (await fetch(url).catch(() => null)) !== null, 30_000)
  return {
    process: measurable(child),
    seen: async () => (await (await fetch(url)).json()) as Sunk,
    async clear() {
      await fetch(url, { method: 'POST' })
    },
  }
}

/** A worker by itself, with the memory that `bin/nurtel work` gives it. */
export const startWorker = (): Measurable =>
  measurable(start('bin/nurtel.ts', ['work'], {}, ['--max-semi-space-size=4', '--heap-growing-percent=20']))

/** Puts people on the list who may be written to, with the numbers after `from`. */
export async function addPeople(database: Database, from: number, count: number): Promise<void> {
  await database.rows(
    `insert into contact (address, address_key, first_name, last_name, marketing_state, created_at, updated_at)
     select 'reader' || n || '@postbox.test', 'reader' || n || '@postbox.test',
       (array['Orla', 'Zoë', 'Tove', 'Ines', 'Bjørn'])[n % 5 + 1], 'Reader ' || n, 'subscribed', now(), now()
     from generate_series($1::int + 1, $1::int + $2::int) n`,
    [from, count],
  )
  await database.rows('analyze contact')
}

/** Queues a message of an email to so many of them. */
export async function queueMessages(database: Database, email: number, count: number): Promise<void> {
  await database.rows('delete from message where email_id = $1', [email])
  await database.rows(
    `insert into message (email_id, email_version, contact_id, purpose, queued_at)
     select $1, 1, id, 'marketing', now() from contact where address_key like 'reader%' order by id limit $2`,
    [email, count],
  )
}

/** Waits until nothing of an email waits any more. */
export const untilSent = (database: Database, email: number, patience = 240_000): Promise<unknown> =>
  eventually(
    async () =>
      !(await database.row(`select from message where email_id = $1 and state = 'queued' limit 1`, [email])),
    patience,
  )
