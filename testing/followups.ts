import type { FollowupView } from '../contract/followups.ts'
import type { Program } from '../core/followups/program.ts'
import type { Step } from '../core/followups/step.ts'
import { advanceDue } from '../server/followups/advancing.ts'
import { enrolManually } from '../server/followups/manualEnrolment.ts'
import type { Marketer } from './marketer.ts'
import type { Used } from './useInstall.ts'

/** A program of these steps that somebody comes into by hand. */
export const programOf = (steps: Step[], rest: Partial<Program> = {}): Program => ({
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  ...rest,
  steps,
})

/** What tests do with follow-ups, through the API that the editor uses. */
export function useFollowups(on: Used) {
  const view = (id: number, mara: Marketer = on.mara): Promise<FollowupView> => mara.get(`/followups/${id}`)
  const save = async (id: number, content: Program): Promise<Response> => {
    const { version, revision } = await view(id)
    return on.mara.post(`/followups/${id}/draft`, { version, revision, content })
  }
  const goLive = async (id: number, rest: object = {}): Promise<Response> => {
    const { version, revision } = await view(id)
    return on.mara.post(`/followups/${id}/go-live`, { version, revision, ...rest })
  }
  let made = 0
  /** Makes a follow-up and has it live. @returns its id */
  const live = async (content: Program): Promise<number> => {
    made += 1
    const answer = await on.mara.post('/followups', { name: `Follow-up ${made}`, content })
    const { id } = (await answer.json()) as { id: number }
    const went = await goLive(id)
    if (!went.ok) throw new Error(await went.text())
    return id
  }
  const letIn = async (id: number, people: number[]): Promise<void> => {
    await on.install.platform.database.inTransaction((tx) =>
      enrolManually(on.install.platform, tx, id, people, 'Mara Ellery'),
    )
  }
  /** Everything that is due until the clock has gone on by so much, in steps of an hour. */
  const pass = async (time: number, step = 3_600_000): Promise<void> => {
    for (let gone = 0; gone < time; gone += step) {
      on.install.clock.move(Math.min(step, time - gone))
      await advanceDue(on.install.platform)
    }
  }
  const decisions = (id: number, contact: number) =>
    on.q.rows<{ step: string | null; outcome: string; reason: string }>(
      `select decision.step, outcome, reason from decision join enrolment on enrolment.id = enrolment_id
       where followup_id = $1 and decision.contact_id = $2 order by decision.id`,
      [id, contact],
    )
  const outcomes = async (id: number, contact: number): Promise<string[]> =>
    (await decisions(id, contact)).map(({ step, outcome }) => `${step ?? ''} ${outcome}`)
  const standing = (id: number) =>
    on.q.rows<{ contact: number; step: string | null }>(
      'select contact_id contact, step from enrolment where followup_id = $1 order by enrolment.id',
      [id],
    )
  return { view, save, goLive, live, letIn, pass, decisions, outcomes, standing }
}
