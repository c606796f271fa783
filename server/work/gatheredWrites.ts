import type { Logger } from 'pino'

/** What is written without standing in the way of a request. */
export interface Gathered<Item> {
  add(item: Item): void
  /** Writes what is not written yet, for a graceful end. */
  close(): Promise<void>
}

interface Gathering<Item> {
  /** What is gathered, as the log names it. */
  called: string
  write: (items: readonly Item[]) => Promise<void>
  /** So many, or after so long (ms), are written at once. */
  atOnce: number
  after: number
  /** That wait while the database is away; more are given up, and said. */
  mostWaiting: number
}

/** Gathers what many requests have to write, and writes it together: one transaction for all of a moment. */
export function gather<Item>(
  { called, write, atOnce, after, mostWaiting }: Gathering<Item>,
  log: Logger,
): Gathered<Item> {
  let waiting: Item[] = []
  let timer: NodeJS.Timeout | undefined
  let writing: Promise<void> = Promise.resolve()

  function flush(): Promise<void> {
    clearTimeout(timer)
    timer = undefined
    writing = writing.then(async () => {
      const taken = waiting
      if (taken.length === 0) return
      waiting = []
      try {
        await write(taken)
      } catch (error) {
        // The database is away: they wait, and are tried again with the next ones.
        log.warn({ err: error }, `${called} wait for the database`)
        const kept = [...taken, ...waiting].slice(-mostWaiting)
        if (taken.length + waiting.length > kept.length) log.error(`${called} were given up: too many wait`)
        waiting = kept
        timer ??= setTimeout(() => void flush(), after * 4)
      }
    })
    return writing
  }

  return {
    add(item) {
      waiting.push(item)
      if (waiting.length === atOnce) void flush()
      else timer ??= setTimeout(() => void flush(), after)
    },
    close: flush,
  }
}
