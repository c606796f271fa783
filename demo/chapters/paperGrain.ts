import type { Program } from '../../core/followups/program.ts'
import type { Queries } from '../../server/database/connect.ts'
import { business } from '../business.ts'
import type { Person } from '../person.ts'
import { createFollowup, createTag } from './create.ts'
import { createPages } from './paperGrainPages.ts'
import type { Pictures } from './pictures.ts'

const day = 86_400_000

/** The follow-up behind the lesson. */
export function paperGrainProgram(form: number, email: number): Program {
  return {
    startsWhen: [{ kind: 'formSent', form }],
    reentry: 'never',
    leavesWhen: [],
    zone: business.zone,
    steps: [
      { kind: 'send', id: 'deliver', email },
      { kind: 'end', id: 'done' },
    ],
  }
}

/** The second free thing: a lesson, by a page that many come back to. */
export interface PaperGrain {
  page: number
}

/** @param given the email that brings the lesson, and what the pages show */
export async function make(
  q: Queries,
  { lesson, pictures }: { lesson: number; pictures: Pictures },
  at: Date,
): Promise<PaperGrain> {
  const tag = await createTag(q, 'Paper grain', 'Asked for the lesson on paper grain', at)
  const { page, form } = await createPages(q, { tag, pictures }, at)
  await createFollowup(q, 'Paper grain lesson', paperGrainProgram(form, lesson), at)
  return { page }
}

/** Visits the page, the keen ones more than once. */
export function live(person: Person, { page }: PaperGrain): void {
  const { chance, keen, arrival } = person
  const visits = chance.below(2) + (chance.flip(keen) ? 1 + chance.below(3) : 0)
  for (let i = 0; i < visits; i += 1)
    person.did({ kind: 'pageVisited', at: arrival + chance.delay(20 * day), details: { page } })
}

/** Who came to the page twice went through the lessons: one after the other, as they opened. */
export async function storeLearners(q: Queries, { page }: PaperGrain): Promise<void> {
  await q.rows(
    `insert into lesson_seen (contact_id, page_id, at)
     select contact_id, lesson.id, began + (lesson.lesson_number - 1) * interval '50 hours'
     from (select contact_id, min(at) began, count(*) visits from activity
       where kind = 'pageVisited' and (details->>'page')::bigint = $1 group by contact_id) visitor
     join page landing on landing.id = $1
     join page lesson on lesson.path like landing.path || '/%' and lesson.lesson_number <= visits
     where visits > 1 and began < now() - interval '7 days'`,
    [page],
  )
}
