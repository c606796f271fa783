import type { Logger } from 'pino'
import type { Clock } from '../clock.ts'
import type { Database } from '../database/connect.ts'

/** What a form in a browser tells: that it came into sight, or that somebody began to fill it in. */
export type FormEvent = 'seen' | 'begun'

/** Counts are written so often (milliseconds), together. */
const writeEvery = 1_000

/** More different places than this are not kept between two writings: somebody is making them up. */
const mostPlaces = 1_000

interface Counted {
  form: number
  place: string
  day: string
  seen: number
  begun: number
}

/** Where one web process counts how often forms are seen and begun. */
export interface FormCounts {
  count(form: number, place: string, event: FormEvent): void
  close(): Promise<void>
}

export function openFormCounts(database: Database, clock: Clock, log: Logger): FormCounts {
  let counted = new Map<string, Counted>()
  let writing: Promise<unknown> = Promise.resolve()

  async function write(): Promise<void> {
    if (counted.size === 0) return
    const rows = [...counted.values()].sort((a, b) => a.form - b.form || (a.place < b.place ? -1 : 1))
    counted = new Map()
    try {
      await database.rows(
        `insert into form_count (form_id, place, day, seen, begun)
         select form, place, day, seen, begun
         from jsonb_to_recordset($1::jsonb) t (form bigint, place text, day date, seen integer, begun integer)
         where exists (select from form where id = form)
         on conflict (form_id, place, day) do update
           set seen = form_count.seen + excluded.seen, begun = form_count.begun + excluded.begun`,
        [JSON.stringify(rows)],
      )
    } catch (error) {
      log.warn({ err: error }, 'some views of forms were not counted')
    }
  }

  const timer = setInterval(() => {
    writing = write()
  }, writeEvery)
  timer.unref()

  return {
    count(form, place, event) {
      const day = new Date(clock.now()).toISOString().slice(0, 10)
      const key = `${form} ${day} ${place}`
      const known = counted.get(key)
      if (!known && counted.size >= mostPlaces) return
      const entry = known ?? { form, place, day, seen: 0, begun: 0 }
      entry[event] += 1
      counted.set(key, entry)
    },
    async close() {
      clearInterval(timer)
      await writing
      await write()
    },
  }
}
