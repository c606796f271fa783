import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { takeForms, TakenElsewhere, type Sending, type Taken } from './takeForms.ts'

/** Forms that are taken in by one transaction: with more, the process would idle while the database works. */
const mostAtOnce = 32

/** Screens are told of forms so long after the first (ms), of all at once. */
const announcedAfter = 200

interface Waiting {
  sending: Sending
  done: (taken: Taken) => void
  failed: (error: unknown) => void
}

/** Where the forms of one web process are taken in. */
export interface FormDesk {
  send(sending: Sending): Promise<Taken>
}

const namesOf = ({ sending: { token, answers } }: Waiting): string[] => [
  `token ${token}`,
  `address ${answers.address.key}`,
]

/**
 * Takes in forms as they come. While transactions are under way others gather, and are taken in together by the next:
 * one form by itself waits for nobody, and a crowd costs little more than one.
 */
export function openFormDesk(platform: Platform): FormDesk {
  const { database, log } = platform
  let waiting: Waiting[] = []
  let transactions = 0
  /** The tokens and addresses of the forms that are being taken in: of each there is one at a time. */
  const underway = new Set<string>()
  let announcing: NodeJS.Timeout | undefined

  function announceSoon(): void {
    announcing ??= setTimeout(() => {
      announcing = undefined
      // Who looks at a list sees it at the next change.
      announce(database, 'audience').catch((error: unknown) => log.debug({ err: error }, 'not announced'))
    }, announcedAfter).unref()
  }

  function nextBatch(): Waiting[] {
    const seen = new Set<string>()
    const batch: Waiting[] = []
    const later: Waiting[] = []
    for (const each of waiting) {
      const names = namesOf(each)
      if (batch.length < mostAtOnce && !names.some((name) => seen.has(name) || underway.has(name)))
        batch.push(each)
      else later.push(each)
      // A later form of the same address does not overtake an earlier one.
      for (const name of names) seen.add(name)
    }
    waiting = later
    return batch
  }

  async function take(batch: readonly Waiting[]): Promise<void> {
    try {
      const taken = await takeForms(
        platform,
        batch.map(({ sending }) => sending),
      )
      batch.forEach(({ done }, i) => done(taken[i] ?? 'used'))
      announceSoon()
    } catch (error) {
      const [only] = batch
      if (batch.length === 1 && !(error instanceof TakenElsewhere)) only?.failed(error)
      // One that cannot be taken in holds up no other; what another process took meanwhile is found to be taken.
      else for (const each of batch) await take([each])
    }
  }

  /** A second transaction begins only for as many as one may hold: full ones cost the least. */
  const mayBegin = (): boolean =>
    transactions === 0 ? waiting.length > 0 : transactions === 1 && waiting.length >= mostAtOnce

  async function work(): Promise<void> {
    while (mayBegin()) {
      const batch = nextBatch()
      if (batch.length === 0) return
      transactions += 1
      const names = batch.flatMap(namesOf)
      for (const name of names) underway.add(name)
      await take(batch)
      for (const name of names) underway.delete(name)
      transactions -= 1
    }
  }

  return {
    send: (sending) =>
      new Promise((done, failed) => {
        waiting.push({ sending, done, failed })
        void work()
      }),
  }
}
