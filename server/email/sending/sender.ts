import { mayReceive } from '../../../core/audience/people/permission.ts'
import { needsUtf8 } from '../../../core/audience/people/address.ts'
import { noUtf8 } from '../../../core/email/broadcast.ts'
import { nextTry, triedFor } from '../../../core/email/retries.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { beginDeadlines } from '../../commerce/deadlines.ts'
import type { Queries } from '../../database/connect.ts'
import type { Platform } from '../../platform.ts'
import type { WireMessage } from '../smtpPool.ts'
import { readRefusal, type Transports } from '../transport.ts'
import { claimMessages, type ClaimedMessage } from './claimed.ts'
import { closeMessages, type Ended, type Ending } from './closing.ts'
import { openComposer, type Composer, type Prepared } from './composing.ts'
import { loadSendingRules } from '../sendingRules.ts'
import type { HandedOver } from './handedOver.ts'
import { openTurns, roomFor } from './turns.ts'

/** Messages claimed in one transaction: with 200, between an eighth and a quarter less went out a second. */
const batch = 400

/** Messages are held no longer than this (milliseconds): what a slow server has not taken until then is left for later. */
const heldFor = 4_000

/** Sends what is due. */
export interface Sender {
  /**
   * Claims a batch, sends it and writes down what became of it.
   * @returns how many were dealt with, and whether a mail server did not answer
   */
  sendBatch(): Promise<{ claimed: number; away: boolean }>
}

const words = (error: unknown): string => (error instanceof Error ? error.message : String(error))

/** Why somebody does not get a message now, or null when they may: much can have happened since it was queued. */
function reasonToHold(
  message: ClaimedMessage,
  composer: Composer,
  transports: Transports,
  at: Instant,
): string | null {
  const { purpose, agreed, contact, broadcast } = message
  if (broadcast?.stoppedBy) return `${broadcast.stoppedBy} stopped the broadcast`
  const { allowed, reason } = mayReceive(purpose, {
    state: contact.marketingState,
    paused: (contact.pausedUntil ?? 0) > at,
    agreed,
  })
  if (!allowed) return reason
  if (!contact.rehearsal && needsUtf8(contact.address) && transports.knowsUtf8() === false) return noUtf8
  return composer.isSendable(message) ? null : 'the email is a draft: publish it first'
}

/** What a refusal means for a message. */
function endingOf(error: unknown, { attempts, firstTriedAt }: ClaimedMessage, now: Instant): Ending {
  const { permanent, badAddress, words: reason } = readRefusal(error)
  if (permanent) return { state: 'failed', reason, badAddress }
  const dueAt = nextTry(attempts + 1, firstTriedAt ?? now, now)
  if (dueAt !== null) return { state: 'queued', reason, dueAt }
  return { state: 'failed', reason: `Not taken for ${triedFor / 86_400_000} days: ${reason}` }
}

/** Notes what the mail server knows, so that it can be said before sending. @returns what is known by now */
async function noteUtf8(q: Queries, knows: boolean | null, known: boolean | null): Promise<boolean | null> {
  if (knows !== null && knows !== known)
    await q.rows(
      `insert into mail_server (id, knows_utf8) values (1, $1)
       on conflict (id) do update set knows_utf8 = excluded.knows_utf8`,
      [knows],
    )
  return knows
}

/** @param abreast so many messages are on the wire at once */
export function createSender(
  platform: Platform,
  transports: Transports,
  handedOver: HandedOver,
  abreast: number,
): Sender {
  const kept: Prepared = new Map()
  let knownUtf8: boolean | null = null

  /** Sends one message. @returns what became of it, and whether the mail server does not answer */
  async function send(
    message: ClaimedMessage,
    composer: Composer,
    at: Instant,
  ): Promise<{ ending: Ending; away: boolean }> {
    let wire: WireMessage
    try {
      wire = composer.compose(message, at)
    } catch (error) {
      const reason = `The email cannot be put together: ${words(error)}`.slice(0, 300)
      return { ending: { state: 'failed', reason }, away: false }
    }
    try {
      await transports.sendRaw(wire, message.contact.rehearsal)
    } catch (error) {
      const ending = endingOf(error, message, platform.clock.now())
      return { ending, away: readRefusal(error).away }
    }
    handedOver.add(message.id)
    return { ending: { state: 'sent' }, away: false }
  }

  return {
    async sendBatch() {
      const { database, clock } = platform
      const from = performance.now()
      let away = false
      let dealtWith = 0
      const claimed = await database.inTransaction(async (tx) => {
        const rules = await loadSendingRules(tx)
        const room = await roomFor(tx, rules, clock.now())
        if (room <= 0) return []
        const messages = await claimMessages(tx, clock.now(), Math.min(batch, room))
        if (messages.length === 0) return []
        const turns = await openTurns(tx, rules, messages, clock.now())
        const gone = handedOver.all()
        const composer = await openComposer(platform, tx, messages, kept)
        const ended: Ended[] = []
        const waiting = messages.values()
        const deal = async (message: ClaimedMessage, at: Instant): Promise<Ending | null> => {
          if (gone.has(message.id)) return { state: 'sent' }
          const reason = reasonToHold(message, composer, transports, at)
          if (reason !== null) return { state: 'held', reason }
          if (!turns.isAlone(message)) return null
          const turn = turns.take(message, at)
          if (turn.is === 'skipped') return { state: 'held', reason: turn.reason }
          if (turn.is === 'moved')
            return { state: 'moved', reason: turn.reason, dueAt: turn.to - message.contact.clockAhead }
          const sent = await send(message, composer, at)
          away ||= sent.away
          return sent.ending
        }
        const sendOn = async (): Promise<void> => {
          for (const message of waiting) {
            const at = clock.now() + message.contact.clockAhead
            const ending = await deal(message, at)
            if (ending) ended.push({ message, at, ending })
            if (away || performance.now() - from > heldFor) return
          }
        }
        await Promise.all(Array.from({ length: abreast }, sendOn))
        const sent = ended.filter(({ ending }) => ending.state === 'sent')
        await beginDeadlines(
          tx,
          sent.flatMap(({ message, at }) => composer.begins(message, at)),
          'an email',
        )
        await closeMessages(tx, ended, clock.now())
        knownUtf8 = await noteUtf8(tx, transports.knowsUtf8(), knownUtf8)
        dealtWith = ended.length
        return messages.map(({ id }) => id)
      })
      handedOver.told(claimed)
      return { claimed: dealtWith, away }
    },
  }
}
