import type { ActivityKind } from '../../../core/audience/people/activity.ts'
import { kindsWith } from '../../../core/audience/people/activityTraits.ts'
import { leavesOf } from '../../../core/audience/segments/condition.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { Queries } from '../../database/connect.ts'
import { queueAll, type NewJob } from '../../work/jobs.ts'

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
  return [...card.behaviours.map(({ activity }) => activity), ...asked, ...profile, 'pointsGiven']
}

function scoringJobs(contacts: readonly number[]): NewJob[] {
  const jobs: NewJob[] = []
  for (let from = 0; from < contacts.length; from += batch)
    jobs.push({ name: 'scorePeople', payload: { contacts: contacts.slice(from, from + batch) } })
  return jobs
}

/** Has people's scores worked out anew after what the transaction of `q` does. */
export async function queueScoring(q: Queries, contacts: readonly number[]): Promise<void> {
  await queueAll(q, scoringJobs(contacts))
}

/** The jobs that score those who did something that a scorecard looks at. */
export function scoringAfter(
  cards: readonly Scorecard[],
  activities: readonly { contact: number; kind: ActivityKind }[],
): NewJob[] {
  const kinds = new Set(cards.flatMap(kindsThatCount))
  return scoringJobs([
    ...new Set(activities.filter(({ kind }) => kinds.has(kind)).map(({ contact }) => contact)),
  ])
}

/** Has those scored who did something, in the transaction of `q`. */
export async function queueScoringAfter(
  q: Queries,
  activities: readonly { contact: number; kind: ActivityKind }[],
): Promise<void> {
  const cards = await q.rows<{ card: Scorecard }>('select card from scorecard')
  await queueAll(
    q,
    scoringAfter(
      cards.map(({ card }) => card),
      activities,
    ),
  )
}
