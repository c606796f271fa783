import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { Step } from '../../core/followups/step.ts'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { ensureActivityMonths } from '../database/migrate.ts'
import { advanceDue } from './advancing.ts'
import { changeState } from './states.ts'

const on = useInstall({ worker: false })
const followups = useFollowups(on)
const hour = 3_600_000
const by = 'Mara Ellery'

/** Waits in hours since the step before, each with an email after it; those from the start are days of a waitDay. */
const anySteps = fc.array(
  fc.oneof(
    fc.integer({ min: 1, max: 20 }).map((amount) => ({ from: 'before' as const, amount })),
    fc.integer({ min: 1, max: 4 }).map((amount) => ({ from: 'start' as const, amount })),
  ),
  { minLength: 1, maxLength: 5 },
)
type Wait = { from: 'before' | 'start'; amount: number }

const stepsOf = (waits: readonly Wait[]): Step[] =>
  waits.flatMap(({ from, amount }, i): Step[] => [
    from === 'before'
      ? { kind: 'waitFor', id: `w${i}`, amount, unit: 'hours' }
      : { kind: 'waitDay', id: `w${i}`, day: amount },
    { kind: 'send', id: `s${i}`, email: on.install.emails.invitation },
  ])

/** When each email goes out if nothing comes between, in milliseconds since the start. */
function plannedOf(waits: readonly Wait[]): number[] {
  let at = 0
  return waits.map(({ from, amount }) => {
    at = from === 'before' ? at + amount * hour : Math.max(at, amount * 24 * hour)
    return at
  })
}

/** What the specification says: nothing moves while it is held; then all later by the pause, or by what was missed. */
function expectedOf(
  planned: readonly number[],
  { begins, ends, how }: { begins: number; ends: number; how: 'catchUp' | 'shift' },
): number[] {
  const missed = planned.find((at) => at > begins)
  const late = how === 'shift' ? ends - begins : Math.max(0, ends - (missed ?? Infinity))
  return planned.map((at) => (at > begins ? at + late : at))
}

/** Lets everything happen until a moment, each thing at its own. */
async function liveUntil(moment: number): Promise<void> {
  const { clock, platform } = on.install
  for (;;) {
    const next = await on.q.row<{ at: Date | null }>(
      `select min(wakes_at) at from enrolment join followup on followup.id = followup_id
       where ended_at is null and followup.state = 'live'`,
    )
    const at = next?.at?.getTime() ?? Infinity
    if (at > moment) break
    clock.move(Math.max(0, at - clock.now()))
    await advanceDue(platform)
  }
  clock.move(Math.max(0, moment - clock.now()))
}

it('a pause moves every email by its length, or by what was missed, whatever the program and whenever it comes', async () => {
  let people = 0
  await fc.assert(
    fc.asyncProperty(
      anySteps,
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 1, max: 60 }),
      fc.constantFrom('catchUp' as const, 'shift' as const),
      async (waits, after, length, how) => {
        const { clock, platform } = on.install
        // Nobody is signed in for so long without a word.
        await on.q.rows(`update sign_in set expires_at = '2100-01-01'`)
        await ensureActivityMonths(on.q, clock.now())
        await on.q.rows(`update followup set state = 'archived'`)
        const id = await followups.live(programOf(stepsOf(waits), { zone: 'UTC' }))
        const person = await on.add(`paused${people++}@postbox.test`, { consent: 'Yes' })
        const start = clock.now()
        await followups.letIn(id, [person])

        // Half past, so that nothing is due at the very moment.
        const begins = (after + 0.5) * hour
        const ends = begins + length * hour
        await liveUntil(start + begins)
        await changeState(platform, id, { do: 'pause' }, by)
        await liveUntil(start + ends)
        await changeState(platform, id, { do: 'resume', how }, by)
        await liveUntil(start + ends + 40 * 24 * hour)

        const sent = await on.q.rows<{ step: string; at: Date }>(
          `select step, at from decision where contact_id = $1 and outcome = 'sent' order by id`,
          [person],
        )
        const wanted = expectedOf(plannedOf(waits), { begins, ends, how })
        expect(sent.map(({ step }) => step)).toEqual(waits.map((_, i) => `s${i}`))
        expect(sent.map(({ at }) => at.getTime() - start)).toEqual(wanted)
      },
    ),
    { numRuns: 25 },
  )
})
