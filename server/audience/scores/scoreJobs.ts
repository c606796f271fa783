import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import { kindsWith } from '../../../core/audience/people/activityTraits.ts'
import { leavesOf } from '../../../core/audience/segments/condition.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { Queries } from '../../database/connect.ts'
import { queueJobs } from '../../work/jobs.ts'

/** People scored in one job. */
const batch = 500

/** What can change who somebody is for a profile rule. */
const changesOfProfile = kindsWith(({ changesProfile }) => changesProfile)

/** The kinds of activity after which a score may be another. */
function kindsThatCount(card: Scorecard): ActivityKind[] {
  const asked = card.profile
    .flatMap(({ when }) => leavesOf(when))
    .flatMap((leaf) => (leaf.kind === 'did' ? [leaf.activity] : []))
  const profile = card.profile.length > 0 ? changesOfProfile : []
  return [...card.behaviours.map(({ activity }) => activity), ...asked, ...profile]
}

/** Has people's scores worked out anew after what the transaction of `q` does. */
export async function queueScoring(q: Queries, contacts: readonly number[]): Promise<void> {
  const jobs = []
  for (let from = 0; from < contacts.length; from += batch)
    jobs.push({ contacts: contacts.slice(from, from + batch) })
  await queueJobs(q, 'scorePeople', jobs)
}

/** The same for those who did something that a scorecard looks at. */
export async function queueScoringAfter(
  q: Queries,
  activities: readonly { contact: number; kind: ActivityKind }[],
): Promise<void> {
  const cards = await q.rows<{ card: Scorecard }>('select card from scorecard')
  if (cards.length === 0) return
  const kinds = new Set(cards.flatMap(({ card }) => kindsThatCount(card)))
  await queueScoring(q, [
    ...new Set(activities.filter(({ kind }) => kinds.has(kind)).map(({ contact }) => contact)),
  ])
}
