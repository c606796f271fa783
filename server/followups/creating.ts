import { randomBytes } from 'node:crypto'
import { emailFrom, emailPoints } from '../../core/email/startingPoints.ts'
import type { Program } from '../../core/followups/program.ts'
import { followupStarters, type Making } from '../../core/followups/starters.ts'
import { tagsNamed } from '../audience/describing/tags.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { createEmail } from '../email/emails.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import { followupDrafts } from './followupDrafts.ts'

const newPartId = (): string => randomBytes(8).toString('hex')

/**
 * What a starting point needs, made: drafts of emails, named after what the follow-up is called, and tags.
 * @throws Problem 422 when there is no such starting point
 */
export async function programFrom(
  q: Queries,
  starter: string,
  name: string,
  zone: string,
  doing: Doing,
): Promise<Program> {
  const chosen = followupStarters.find(({ id }) => id === starter)
  if (!chosen) throw new Problem(422, 'There is no such starting point', 'Choose one of those in the list.')
  // What it asks for is written down first, then made, then named by the ids.
  const [emails, tags]: [{ point: string; name: string }[], string[]] = [[], []]
  chosen.make({
    email: (point, email) => emails.push({ point, name: email }),
    tag: (tag) => tags.push(tag),
  })
  const emailIds: number[] = []
  for (const { point, name: email } of emails) {
    const from = emailPoints.find(({ id }) => id === point)
    if (!from) throw new Error(`no email begins as ${point}`)
    const content = emailFrom(from, newPartId)
    emailIds.push(await createEmail(q, { name: `${name}: ${email}`.slice(0, 120), content }, doing))
  }
  const tagIds: number[] = []
  for (const tag of tags) tagIds.push(...(await tagsNamed(q, [tag], doing.at)))
  const next = (ids: number[]): number => ids.shift() ?? 0
  const making: Making = { email: () => next(emailIds), tag: () => next(tagIds) }
  return { ...chosen.make(making), zone }
}

/** Begins a follow-up that nobody is in yet. @returns its id */
export async function createFollowup(
  q: Queries,
  name: string,
  program: Program,
  doing: Doing,
): Promise<number> {
  const made = await q.row<{ id: number }>(
    `insert into followup (name, state, program, created_at) values ($1, 'draft', $2, $3) returning id`,
    [name, JSON.stringify(program), doing.at],
  )
  if (!made) throw new Error('an insert returned no row')
  await followupDrafts.begin(q, made.id, program, doing)
  await announce(q, 'followups')
  return made.id
}

/** Copies what is written of a follow-up, and nobody in it. @throws Problem 404 */
export async function copyFollowup(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await followupDrafts.thing(q, id)
  const { content } = await followupDrafts.newest(q, id)
  return createFollowup(q, `${name} (copy)`.slice(0, 120), content, doing)
}
