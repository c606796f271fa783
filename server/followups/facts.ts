import type { ActivityDetails, ActivityKind } from '../../core/audience/activity.ts'
import { leavesOf, type Condition } from '../../core/audience/condition.ts'
import type { MarketingState, Purpose } from '../../core/audience/permission.ts'
import type { Facts } from '../../core/followups/advance.ts'
import { allSteps, type Program } from '../../core/followups/program.ts'
import { loadNames } from '../audience/names.ts'
import type { Queries } from '../database/connect.ts'

function conditionsOf(program: Program): Condition[] {
  return allSteps(program.steps).flatMap((step) =>
    step.kind === 'branch'
      ? step.arms.map((arm) => arm.when)
      : step.kind === 'send' && step.onlyIf
        ? [step.onlyIf]
        : [],
  )
}

/** The kinds of activity that these programs ask about: no other is read. */
function kindsAskedBy(programs: readonly Program[]): ActivityKind[] {
  const leaves = programs.flatMap(conditionsOf).flatMap(leavesOf)
  return [...new Set(leaves.flatMap((leaf) => (leaf.kind === 'did' ? [leaf.activity] : [])))]
}

interface PersonRow {
  id: number
  marketing: MarketingState
  tags: number[]
  activities: { kind: ActivityKind; at: number; details: ActivityDetails }[]
}

/**
 * What the engine may look at, for many people in a few statements.
 * @returns facts by contact id
 */
export async function loadFacts(
  q: Queries,
  programs: readonly Program[],
  contacts: readonly number[],
): Promise<Map<number, Facts>> {
  const [names, emails, people] = [
    await loadNames(q),
    await q.rows<{ id: number; purpose: Purpose }>('select id, purpose from email'),
    await q.rows<PersonRow>(
      `select contact.id, marketing_state marketing,
         array(select tag_id from contact_tag where contact_id = contact.id) tags,
         coalesce((select json_agg(json_build_object('kind', kind, 'details', details,
             'at', floor(extract(epoch from at) * 1000)) order by at)
           from activity where contact_id = contact.id and kind = any($2)), '[]') activities
       from contact where id = any($1)`,
      [contacts, kindsAskedBy(programs)],
    ),
  ]
  const purposes = Object.fromEntries(emails.map(({ id, purpose }) => [id, { purpose }]))
  return new Map(
    people.map(({ id, tags, ...person }) => [
      id,
      { person: { ...person, tags: new Set(tags) }, emails: purposes, names },
    ]),
  )
}
