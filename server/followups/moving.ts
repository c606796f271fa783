import type { MovePeople } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { indexSteps } from '../../core/followups/track.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound, Problem } from '../http/problems.ts'
import { loadProgramContext } from './programContext.ts'
import { leaveFollowups } from './leaving.ts'

interface Inside {
  id: number
  contact: number
  step: string
}

/** Those who are meant and inside, locked: people before what is theirs. */
async function inside(q: Queries, followup: number, { who }: MovePeople): Promise<Inside[]> {
  const meant = 'people' in who ? 'contact_id = any($2)' : 'step = $2'
  const bind = [followup, 'people' in who ? who.people : who.step]
  const rows = await q.rows<Inside>(
    `select enrolment.id, contact_id contact, step from enrolment join contact on contact.id = contact_id
     where followup_id = $1 and ended_at is null and ${meant}
     order by contact_id, enrolment.id for no key update of contact`,
    bind,
  )
  return rows
}

/**
 * Moves people on by hand, to the next step or a later one, or takes them out; the journal says who did it. Nobody goes
 * back: who would is left where they are.
 * @returns how many were moved
 * @throws Problem 404, 422
 */
export async function movePeople(
  platform: Platform,
  id: number,
  wish: MovePeople,
  by: string,
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const found = await tx.row<{ program: Program }>('select program from followup where id = $1', [id])
    if (!found) throw notFound('This follow-up')
    const { program } = found
    const track = indexSteps(program)
    const now = new Date(platform.clock.now())
    const people = await inside(tx, id, wish)
    if (wish.to.where === 'out') {
      const reason = `taken out by ${by}`
      const leaving = people.map(({ contact }) => ({ followup: id, contact, reason, at: now.getTime() }))
      const left = await leaveFollowups(tx, leaving)
      await announce(tx, 'followups', 'audience')
      return left
    }
    const target = wish.to.where === 'step' ? wish.to.step : null
    if (target !== null && !track.has(target))
      throw new Problem(
        422,
        'This step is not part of what is live',
        'Choose another step, or go live first.',
      )
    const { names } = await loadProgramContext(tx, [program])
    const moving = people.flatMap(({ id: enrolment, contact, step }) => {
      const here = track.get(step)
      const to = target ?? here?.next ?? null
      const there = to === null ? undefined : track.get(to)
      if (!here || !there || there.order <= here.order) return []
      return [{ enrolment, contact, step, to: there.step }]
    })
    await tx.rows(
      `with moving as (select * from unnest($1::bigint[], $2::bigint[], $3::text[], $4::text[], $5::text[])
           t (id, contact, was, step, reason)),
       placed as (update enrolment set step = moving.step, due_at = null, wakes_at = $6
         from moving where enrolment.id = moving.id and ended_at is null)
       insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
       select moving.id, moving.contact, was, 'moved', reason, $6::timestamptz + clock_ahead * interval '1 millisecond'
       from moving join contact on contact.id = moving.contact`,
      [
        moving.map(({ enrolment }) => enrolment),
        moving.map(({ contact }) => contact),
        moving.map(({ step }) => step),
        moving.map(({ to }) => to.id),
        moving.map(({ to }) => `to ${describeStep(to, names).title}, by ${by}`),
        now,
      ],
    )
    await announce(tx, 'followups', 'audience')
    return moving.length
  })
}
