import type { Scorecard } from '../../core/audience/scores/scorecard.ts'
import { rescoreEverybody } from '../../server/audience/scores/rescoring.ts'
import { saveScorecard } from '../../server/audience/scores/scorecards.ts'
import type { TestInstall } from '../../testing/install.ts'
import { round, type Found } from '../report.ts'

const rule = { details: {}, capPerDay: null, capInAll: null }

/** Rules over every kind of activity that the crowd has, with caps and two half-lives. */
export const card: Scorecard = {
  behaviours: [
    { ...rule, id: 'sent', activity: 'emailSent', points: 1, capInAll: 3, halfLife: null },
    { ...rule, id: 'open', activity: 'emailOpened', points: 2, capPerDay: 4, halfLife: 30 },
    { ...rule, id: 'click', activity: 'emailClicked', points: 10, halfLife: 90 },
    { ...rule, id: 'visit', activity: 'pageVisited', points: 5, halfLife: 30 },
    { ...rule, id: 'form', activity: 'formSent', points: 8, halfLife: null },
  ],
  profile: [
    { id: 'ie', when: { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } }, points: 5 },
  ],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'warm', name: 'Warm', from: 12 },
    { id: 'hot', name: 'Hot', from: 20 },
  ],
}

/** Everybody's score from all activity; the yardstick only sums one row a person, without fading and caps. */
export async function measureRescoring({ platform }: TestInstall): Promise<Found> {
  const { id } = await saveScorecard(platform, null, { name: 'Interest', card })
  const from = performance.now()
  const people = await rescoreEverybody(platform, id, { report: () => Promise.resolve() })
  const ours = (performance.now() - from) / 1000
  const begin = performance.now()
  await platform.database.rows(
    `select count(*) from (select contact_id, sum(case kind when 'emailClicked' then 10 when 'pageVisited' then 5
       when 'formSent' then 8 when 'emailOpened' then 2 else 1 end) from activity group by 1) t`,
  )
  const plain = (performance.now() - begin) / 1000
  return {
    figures: { rescore_s: round(ours), plain_sum_s: round(plain) },
    lines: [
      {
        what: `scores of ${people.toLocaleString('en')} people from all activity`,
        ours: `${round(ours)} s`,
        yardstick: `a plain sum in SQL, no fading, no caps: ${round(plain)} s`,
      },
    ],
  }
}
