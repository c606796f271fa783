import { describe, expect, it } from 'vitest'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import { made } from '../../../testing/people.ts'
import { mailFor, postForm } from '../../../testing/visitor.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { advanceDue } from '../../followups/advancing.ts'
import { noticeCrossings, scorePeople, ScorecardBusy } from './scoring.ts'

const on = useInstall()
const day = 86_400_000

const card: Scorecard = {
  behaviours: [
    {
      id: 'form',
      activity: 'formSent',
      details: {},
      points: 20,
      capPerDay: null,
      capInAll: null,
      halfLife: 1,
    },
  ],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 15 },
  ],
}

describe('while a scorecard is worked out for everybody', () => {
  it('mail and follow-ups go on, and nothing in the worker’s loop waits', async () => {
    const { id } = await made<{ id: number }>(on.mara.post('/scorecards', { name: 'Interest', card }))
    await expect
      .poll(
        async () =>
          (await on.q.row<{ card: Scorecard }>('select card from scorecard'))?.card.behaviours.length,
      )
      .toBe(1)
    await on.q.inTransaction(async (tx) => {
      // As rescoring does for as long as it takes.
      await tx.rows('select from scorecard where id = $1 for update', [id])
      for (let i = 0; i < 12; i += 1) {
        await postForm(on.install.url, { address: `p${i}@postbox.test` })
        expect(await mailFor(on.install, `p${i}@postbox.test`)).toHaveLength(1)
      }
      on.install.clock.move(2 * day)
      // Both are parts of the loop: they answer at once.
      await Promise.all([noticeCrossings(on.install.platform), advanceDue(on.install.platform)])
      expect(await mailFor(on.install, 'p0@postbox.test', 2)).toHaveLength(2)
      await expect(scorePeople(on.install.platform, [1])).rejects.toThrow(ScorecardBusy)
      const waiting = await on.q.rows(
        `select query from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
      )
      expect(waiting).toEqual([])
    })
    // Who had to come back later is scored then, and has cooled down meanwhile.
    await on.q.rows('update graphile_worker._private_jobs set run_at = now()')
    await expect
      .poll(async () => (await on.q.rows('select from contact_score')).length, { timeout: 10_000 })
      .toBe(12)
  })

  it('takes less than half of a worker’s places', async () => {
    const queues = await on.q.rows<{ queue_name: string }>(
      `select distinct queue_name from graphile_worker._private_job_queues where queue_name like 'scoring %'`,
    )
    expect(queues.length).toBeGreaterThan(0)
    expect(queues.length).toBeLessThanOrEqual(3)
  })
})
