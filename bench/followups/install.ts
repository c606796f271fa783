import { readdir, readFile } from 'node:fs/promises'
import type { Program } from '../../core/followups/program.ts'
import type { Step } from '../../core/followups/step.ts'
import type { Database } from '../../server/database/connect.ts'
import { createFollowup } from '../../server/followups/creating.ts'
import { writeWakings } from '../../server/followups/waking.ts'
import { eventually } from '../../testing/waiting.ts'
import { measurable, start, type Measurable } from '../forms/processes.ts'

/** A worker that only moves people on. */
export const startAdvancer = (): Measurable => measurable(start('bench/followups/advancer.ts', [], {}))

/** A follow-up of these steps that runs. @returns its id */
export async function liveFollowup(database: Database, name: string, steps: Step[]): Promise<number> {
  const program: Program = { startsWhen: [], reentry: 'never', leavesWhen: [], zone: 'Europe/Dublin', steps }
  const at = new Date()
  return database.inTransaction(async (tx) => {
    const id = await createFollowup(tx, name, program, { by: 'bench', at })
    await tx.rows(
      `update followup set state = 'live', published_version = 1, published_at = $2, published_by = 'bench' where id = $1`,
      [id, at],
    )
    await writeWakings(tx, id, program)
    return id
  })
}

/** Puts readers into a follow-up, standing on a step since a while, due at a moment. */
export async function standOn(
  database: Database,
  followup: number,
  { step, due, from, count }: { step: string; due: string; from: number; count: number },
): Promise<void> {
  await database.rows(
    `insert into enrolment (followup_id, contact_id, started_at, step, due_at, wakes_at)
     select $1, id, now() - interval '2 days', $2, ${due}, ${due} from contact
     where address_key like 'reader%' order by id offset $3 limit $4`,
    [followup, step, from, count],
  )
  await database.rows('analyze enrolment')
}

/** Waits until nobody of a follow-up is due any more. */
export const untilDone = (database: Database, followup: number, patience = 240_000): Promise<unknown> =>
  eventually(
    async () =>
      !(await database.row(
        `select from enrolment where followup_id = $1 and ended_at is null and wakes_at <= now() limit 1`,
        [followup],
      )),
    patience,
  )

/** Waits until nobody is inside a follow-up any more. */
export const untilAllLeft = (database: Database, followup: number, patience = 240_000): Promise<unknown> =>
  eventually(
    async () =>
      !(await database.row(`select from enrolment where followup_id = $1 and ended_at is null limit 1`, [
        followup,
      ])),
    patience,
  )

/** Processor time that PostgreSQL's processes have used until now (seconds), as Linux tells it. */
export async function databaseSeconds(): Promise<number> {
  let ticks = 0
  for (const pid of await readdir('/proc')) {
    if (!/^\d+$/.test(pid)) continue
    const stat = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => '')
    if (!stat.includes('(postgres)')) continue
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ')
    ticks += Number(fields[11]) + Number(fields[12])
  }
  return ticks / 100
}
