import type { FollowupRow, FollowupView, StepView } from '../../contract/followups.ts'
import type { Names } from '../../core/audience/segments/names.ts'
import { allSteps } from '../../core/followups/step.ts'
import { conditionsOf, referencesOfProgram } from '../../core/followups/program.ts'
import { layoutTimetable } from '../../core/followups/timetable.ts'
import { Page } from '../pages/models.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import { Followup } from './models.ts'
import { describeStart, describeStep } from '../../core/followups/sentences.ts'

interface Counts {
  id: number
  inside: number
  finished: number
  due: Date | null
}

function countsOf(platform: Platform, followup?: number): Promise<Counts[]> {
  return platform.database.rows<Counts>(
    `select followup_id id, count(*) filter (where ended_at is null) inside,
       count(*) filter (where ended_at is not null) finished, min(wakes_at) due
     from enrolment join contact on contact.id = contact_id
     where not contact.rehearsal and ($1::bigint is null or followup_id = $1) group by 1`,
    [followup ?? null],
  )
}

/** The names of what follow-ups speak of. */
async function namesIn(platform: Platform, followups: readonly Followup[]): Promise<Names> {
  const programs = followups.map(({ program }) => program)
  const trees = programs.flatMap(conditionsOf)
  return (await loadContext(platform.database, trees, programs.flatMap(referencesOfProgram))).names
}

function viewRow(followup: Followup, counts: Counts | undefined, names: Names): FollowupRow {
  return {
    id: followup.id,
    name: followup.name,
    state: followup.state,
    startsWhen: followup.program.startsWhen.map((rule) => describeStart(rule, names)),
    steps: allSteps(followup.program.steps).length,
    inside: counts?.inside ?? 0,
    finished: counts?.finished ?? 0,
    nextDueAt: counts?.due?.toISOString() ?? null,
  }
}

export async function listFollowups(platform: Platform): Promise<FollowupRow[]> {
  const [followups, counts] = await Promise.all([Followup.findAll({ order: ['name'] }), countsOf(platform)])
  const names = await namesIn(platform, followups)
  return followups.map((followup) =>
    viewRow(
      followup,
      counts.find(({ id }) => id === followup.id),
      names,
    ),
  )
}

async function stepViews(platform: Platform, followup: Followup, names: Names): Promise<StepView[]> {
  const [waiting, outcomes] = await Promise.all([
    platform.database.rows<{ step: string; people: number }>(
      `select step, count(*) people from enrolment join contact on contact.id = contact_id
       where followup_id = $1 and ended_at is null and not contact.rehearsal group by 1`,
      [followup.id],
    ),
    platform.database.rows<{ step: string; outcome: string; times: number }>(
      `select decision.step, outcome, count(*) times
       from decision join enrolment on enrolment.id = enrolment_id join contact on contact.id = enrolment.contact_id
       where followup_id = $1 and not contact.rehearsal group by 1, 2`,
      [followup.id],
    ),
  ])
  return allSteps(followup.program.steps).map((step) => ({
    id: step.id,
    kind: step.kind,
    ...describeStep(step, names),
    email: step.kind === 'send' ? step.email : null,
    waiting: waiting.find((row) => row.step === step.id)?.people ?? 0,
    outcomes: Object.fromEntries(
      outcomes.filter((row) => row.step === step.id).map((row) => [row.outcome, row.times]),
    ),
  }))
}

/** One follow-up with its timetable and who stands where. @throws Problem 404 */
export async function viewFollowup(platform: Platform, id: number): Promise<FollowupView> {
  const followup = await Followup.findByPk(id)
  if (!followup) throw notFound('This follow-up')
  const { program } = followup
  const names = await namesIn(platform, [followup])
  const pageId = program.startsWhen.find((rule) => rule.kind === 'formSent')?.page
  const page = pageId === undefined ? null : await Page.findByPk(pageId)
  const [counts] = await countsOf(platform, id)
  return {
    ...viewRow(followup, counts, names),
    zone: program.zone,
    reentry: program.reentry,
    page: page && { name: page.name, path: `/p/${page.path}` },
    stepViews: await stepViews(platform, followup, names),
    timetable: layoutTimetable(program),
    datedColumns: layoutTimetable(program, platform.clock.now()).columns.map((column) => column.label),
  }
}
