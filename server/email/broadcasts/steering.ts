import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import { notFound, Problem } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'
import { getBusiness } from '../../workspace/business.ts'
import { plannedMoments } from './moments.ts'

interface Steered {
  readerZone: boolean
  calledBack: boolean
  stopped: boolean
  paused: boolean
  /** Its messages have been made. */
  ready: boolean
  begun: boolean
  /** Something of it has not gone yet. */
  waits: boolean
}

async function lockBroadcast(q: Queries, id: number): Promise<Steered> {
  const found = await q.row<Steered>(
    `select reader_zone "readerZone",
       called_back_by is not null "calledBack", stopped_by is not null stopped, paused_by is not null paused,
       left_out is not null ready, work_id is not null begun,
       exists (select from message where broadcast_id = broadcast.id and state in ('queued', 'waiting')) waits
     from broadcast where id = $1 for no key update`,
    [id],
  )
  if (!found) throw notFound('This broadcast')
  return found
}

/** Changes a broadcast that nobody else changes meanwhile. */
async function steer(
  platform: Platform,
  id: number,
  change: (q: Queries, broadcast: Steered) => Promise<void>,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    await change(tx, await lockBroadcast(tx, id))
    await announce(tx, 'email')
  })
}

const over = (broadcast: Steered): boolean =>
  broadcast.stopped || broadcast.calledBack || (broadcast.ready && !broadcast.waits)

const nothingLeft = (): Problem =>
  new Problem(409, 'There is nothing left to stop', 'All of its emails have been sent.')

/** Calls a broadcast back before anything of it has gone: nobody gets it, and it is as if it had not been. */
export const callBack = (platform: Platform, id: number, by: string): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (broadcast.calledBack) return
    // Messages that a worker has in hand are waited for: if one has gone by then, none of this is done.
    await q.rows(`delete from message where broadcast_id = $1 and state in ('queued', 'waiting')`, [id])
    if (await q.row('select from message where broadcast_id = $1 limit 1', [id]))
      throw new Problem(
        409,
        'The first emails have left',
        'It can no longer be called back. Pause or stop it: what has not left yet stays here.',
      )
    await q.rows('update broadcast set called_back_by = $2 where id = $1', [id, by])
  })

/** Sends at once what could still be called back, or waits for the readers' own time. @throws Problem 404, 409 */
export const hurryBroadcast = (platform: Platform, id: number): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (!broadcast.ready || over(broadcast)) throw nothingLeft()
    const now = new Date(platform.clock.now())
    await q.rows('update broadcast set goes_at = least(goes_at, $2) where id = $1', [id, now])
    await q.rows(
      `update message set due_at = $2 where broadcast_id = $1 and state = 'queued' and due_at > $2`,
      [id, now],
    )
  })

/** Keeps what has not gone yet until somebody goes on. @throws Problem 404, 409 */
export const pauseBroadcast = (platform: Platform, id: number, by: string): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (broadcast.paused) return
    if (!broadcast.ready || over(broadcast)) throw nothingLeft()
    await q.rows('update broadcast set paused_by = $2 where id = $1', [id, by])
    await q.rows(`update message set state = 'waiting' where broadcast_id = $1 and state = 'queued'`, [id])
  })

/** Goes on with a broadcast that was paused. @throws Problem 404 */
export const resumeBroadcast = (platform: Platform, id: number): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (!broadcast.paused || broadcast.stopped) return
    await q.rows('update broadcast set paused_by = null where id = $1', [id])
    // Who waits for the end of a test has no variant yet.
    await q.rows(
      `update message set state = 'queued' where broadcast_id = $1 and state = 'waiting' and variant is not null`,
      [id],
    )
  })

/** Stops a broadcast: what has not gone out yet is held back, and each is told why. @throws Problem 404, 409 */
export const stopBroadcast = (platform: Platform, id: number, by: string): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (broadcast.stopped) return
    if (!broadcast.ready || over(broadcast)) throw nothingLeft()
    await q.rows('update broadcast set stopped_by = $2, paused_by = null where id = $1', [id, by])
    await q.rows(
      `update message set state = 'queued', due_at = '-infinity' where broadcast_id = $1
         and state in ('queued', 'waiting')`,
      [id],
    )
  })

/** Plans a broadcast for another moment. @throws Problem 404, 409 once it is made ready, 422 */
export const moveBroadcast = (platform: Platform, id: number, local: string): Promise<void> =>
  steer(platform, id, async (q, broadcast) => {
    if (broadcast.begun || broadcast.calledBack)
      throw new Problem(409, 'It is on its way already', 'Only what is planned can be moved.')
    const { zone } = await getBusiness(q)
    const { readerZone } = broadcast
    const moved = plannedMoments({ when: 'at', local, readerZone }, zone, platform.clock.now())
    await q.rows(
      `update broadcast set goes_at = $2, prepare_at = $3, decide_at = decide_at + ($2::timestamptz - goes_at)
       where id = $1`,
      [id, new Date(moved.goesAt), new Date(moved.prepareAt)],
    )
  })
