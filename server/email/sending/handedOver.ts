import {
  closeSync,
  ftruncateSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeSync,
} from 'node:fs'
import { join } from 'node:path'
import type { Queries } from '../../database/connect.ts'

/**
 * What a worker has handed to a mail server and not yet told the database: a file of its own beside the data of the
 * install, written to before anything else happens. A worker that is killed in between leaves it behind, and whoever
 * finds such a message due again knows that it has gone.
 */
export interface HandedOver {
  add(message: number): void
  /** The database knows of these. */
  told(messages: Iterable<number>): void
  /** Those that any worker of this machine has handed over. */
  all(): Set<number>
  close(): void
}

const ending = '.handed-over'

/** For an install without a folder: what is handed over is known to nobody but the mail server. */
const nowhere: HandedOver = { add() {}, told() {}, all: () => new Set(), close() {} }

function readMessages(file: string): number[] {
  try {
    // A line that was cut off by the end of the process has no line break.
    return readFileSync(file, 'utf8').split('\n').slice(0, -1).map(Number)
  } catch {
    // Its worker has ended and taken it away meanwhile.
    return []
  }
}

/** @param folder of the install's data; @param worker whose file it is */
export function openHandedOver(folder: string | null, worker: string): HandedOver {
  if (folder === null) return nowhere
  const sending = join(folder, 'sending')
  mkdirSync(sending, { recursive: true })
  const own = join(sending, `${worker}${ending}`)
  const file = openSync(own, 'a+')
  const untold = new Set<number>()
  return {
    add(message) {
      untold.add(message)
      try {
        writeSync(file, `${message}\n`)
      } catch {
        // A full disk: the message has gone all the same, and the database is told of it in a moment.
      }
    },
    told(messages) {
      if (untold.size === 0) return
      for (const message of messages) untold.delete(message)
      if (untold.size === 0) ftruncateSync(file)
    },
    all() {
      const files = readdirSync(sending).filter((name) => name.endsWith(ending))
      return new Set(
        files
          .map((name) => join(sending, name))
          .filter((name) => statSync(name, { throwIfNoEntry: false })?.size)
          .flatMap(readMessages),
      )
    },
    close() {
      closeSync(file)
      // What the database was never told of stays for the next worker.
      if (untold.size === 0) rmSync(own, { force: true })
    },
  }
}

/** Takes away what workers have left behind that were killed, as far as the database knows of it by now. */
export async function tidyHandedOver(q: Queries, folder: string | null): Promise<void> {
  if (folder === null) return
  const sending = join(folder, 'sending')
  mkdirSync(sending, { recursive: true })
  const alive = await q.rows<{ id: string }>('select id from worker')
  const left = readdirSync(sending).filter(
    (name) => name.endsWith(ending) && !alive.some(({ id }) => name.startsWith(`${id}-`)),
  )
  for (const name of left) {
    const messages = readMessages(join(sending, name))
    const waits = await q.row(`select from message where id = any($1) and state = 'queued' limit 1`, [
      messages,
    ])
    if (!waits) rmSync(join(sending, name), { force: true })
  }
}
