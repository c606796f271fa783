import type { FormView } from '../../contract/forms.ts'
import type { DraftState } from '../../contract/drafts.ts'
import { leavesOf } from '../../core/audience/segments/condition.ts'
import type { FormContent } from '../../core/capture/form.ts'
import { describeSending } from '../../core/capture/describeForm.ts'
import { formatScore } from '../../core/audience/segments/describe.ts'
import type { Scorecard } from '../../core/audience/scores/scorecard.ts'
import { loadAllNames } from '../audience/segments/names.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { usesOf } from '../pages/usage.ts'
import { randomPartId } from '../pages/partIds.ts'
import { randomToken } from '../signing.ts'
import { formDrafts } from './formDrafts.ts'

/** Makes a form whose first version is a draft. @returns its id */
export async function createForm(
  q: Queries,
  given: { name: string; content: FormContent },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    'insert into form (name, key, created_at) values ($1, $2, $3) returning id',
    [given.name, randomToken(), doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await formDrafts.begin(q, row.id, given.content, doing)
  await announce(q, 'pages')
  return row.id
}

/** Makes a form that visitors can use at once. @throws Problem 422 when something of it is not right yet */
export async function createPublishedForm(
  q: Queries,
  given: { name: string; content: FormContent },
  doing: Doing,
): Promise<number> {
  const id = await createForm(q, given, doing)
  await formDrafts.publish(q, id, { version: 1, revision: 1 }, doing)
  return id
}

/** What scorecards give for a form, as one says it. */
async function pointsFor(q: Queries, form: number, content: FormContent): Promise<string[]> {
  const cards = await q.rows<{ name: string; card: Scorecard }>(
    'select name, card from scorecard order by id',
  )
  const tags = content.actions.flatMap((action) => (action.does === 'addTag' ? [action.tag] : []))
  return cards.flatMap(({ name, card }) => [
    ...card.behaviours
      .filter(
        ({ activity, details }) =>
          activity === 'formSent' && (details.form === undefined || details.form === form),
      )
      .map(({ points }) => `gives ${formatScore(points)} points on the scorecard “${name}”`),
    ...card.profile
      .filter(({ when }) => leavesOf(when).some((leaf) => leaf.kind === 'hasTag' && tags.includes(leaf.tag)))
      .map(({ points }) => `its tag is worth ${formatScore(points)} points on the scorecard “${name}”`),
  ])
}

/** What a form does, as one reads it aloud. */
export async function sendsOf(q: Queries, form: number, content: FormContent): Promise<string[]> {
  return describeSending(content, await loadAllNames(q), await pointsFor(q, form, content))
}

/** A form with its draft, as its editor opens it. @throws Problem 404 */
export async function viewForm(q: Queries, id: number, doing: Doing): Promise<FormView> {
  const row = await q.row<{ key: string }>('select key from form where id = $1', [id])
  if (!row) throw notFound('This form')
  const view = await formDrafts.view(q, id, doing)
  return {
    ...view,
    ...row,
    sends: await sendsOf(q, id, view.content),
    usedIn: (await usesOf(q, 'form', [id])).get(id) ?? [],
  }
}

/** What is said after each save of a form. */
export const withSends = async (
  q: Queries,
  form: number,
  content: FormContent,
  state: DraftState,
): Promise<DraftState & { sends: string[] }> => ({ ...state, sends: await sendsOf(q, form, content) })

export async function renameForm(q: Queries, id: number, name: string): Promise<void> {
  if (!(await q.row('update form set name = $2 where id = $1 returning id', [id, name])))
    throw notFound('This form')
  await q.rows('update consent_wording set name = $2 where form_id = $1', [id, name])
  await announce(q, 'pages')
}

/** The same steps and fields under ids of their own. */
const copied = (content: FormContent): FormContent => ({
  ...content,
  steps: content.steps.map((step) => ({
    ...step,
    id: randomPartId(),
    fields: step.fields.map((field) => ({ ...field, id: randomPartId() })),
  })),
})

/** Makes a draft that says the same. @returns its id */
export async function copyForm(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await formDrafts.thing(q, id)
  const { content } = await formDrafts.newest(q, id)
  return createForm(q, { name: `${name} (copy)`.slice(0, 120), content: copied(content) }, doing)
}

/**
 * Deletes a form; what people agreed to by it stays, with its words.
 * @throws Problem 409 while it stands somewhere, or somebody waits to confirm it
 */
export async function deleteForm(q: Queries, id: number): Promise<void> {
  await formDrafts.thing(q, id)
  const usedIn = (await usesOf(q, 'form', [id])).get(id)
  if (usedIn)
    throw new Problem(409, 'This form is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  const waiting = await q.row(
    'select from confirmation where form_id = $1 and confirmed_at is null limit 1',
    [id],
  )
  if (waiting)
    throw new Problem(
      409,
      'People are waiting to confirm this form',
      'Archive it now, and delete it once they have confirmed or are forgotten.',
    )
  await q.rows('delete from form where id = $1', [id])
  await announce(q, 'pages')
}
