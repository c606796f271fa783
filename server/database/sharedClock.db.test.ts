import { describe, expect, it } from 'vitest'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { systemClock } from '../clock.ts'
import { advanceDue } from '../followups/advancing.ts'
import { sharedClock } from './sharedClock.ts'

const on = useInstall({ worker: false })
const followups = useFollowups(on)
const hour = 3_600_000
const wrongBy = (by: number) => {
  const { database, log } = on.install.platform
  return sharedClock(database, log, { now: () => systemClock.now() + by })
}

describe('a machine whose clock is wrong', () => {
  it.each([hour, -hour])('by %d ms goes by the time of the database', async (by) => {
    const clock = wrongBy(by)
    expect(Math.abs(clock.now() - systemClock.now())).toBeGreaterThan(hour / 2)
    await clock.compare()
    expect(Math.abs(clock.now() - systemClock.now())).toBeLessThan(1_000)
  })

  it('by less than a second keeps its own: time does not jump for the way to the database', async () => {
    const clock = wrongBy(400)
    await clock.compare()
    expect(clock.now() - systemClock.now()).toBeGreaterThanOrEqual(399)
  })

  it('moves nobody on an hour early', async () => {
    const followup = await followups.live(
      programOf([{ kind: 'waitFor', id: 'wait', amount: 30, unit: 'minutes' }]),
    )
    const person = await on.add('early@postbox.test')
    const real = wrongBy(0)
    const due = new Date(real.now() + hour / 2)
    await on.q.rows(
      `insert into enrolment (followup_id, contact_id, started_at, step, due_at, wakes_at)
       values ($1, $2, now(), 'wait', $3, $3)`,
      [followup, person, due],
    )
    const ahead = wrongBy(hour)
    await ahead.compare()
    await advanceDue({ ...on.install.platform, clock: ahead })
    expect(await followups.standing(followup)).toEqual([{ contact: person, step: 'wait' }])
    // One that never asked anybody would have.
    await advanceDue({ ...on.install.platform, clock: wrongBy(hour) })
    expect(await followups.standing(followup)).toEqual([{ contact: person, step: null }])
  })
})
