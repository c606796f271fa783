import type { Scorecard } from '../../core/audience/scores/scorecard.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { dateOf } from '../../core/audience/segments/within.ts'
import { countContacts } from '../../server/audience/people/contactList.ts'
import { rescoreEverybody } from '../../server/audience/scores/rescoring.ts'
import type { Platform } from '../../server/platform.ts'
import { business } from '../business.ts'
import { unwatched } from '../progress.ts'
import type { Story } from '../story.ts'

const day = 86_400_000
const weeksOfTrend = 12

/** The story's scorecard, made up by Mara over a coffee: the check shows how well she guessed. */
function interest(story: Story): Scorecard {
  const rule = { details: {}, capPerDay: null, capInAll: null }
  return {
    behaviours: [
      { ...rule, id: 'opened', activity: 'emailOpened', points: 3, capPerDay: 6, halfLife: 30 },
      { ...rule, id: 'clicked', activity: 'emailClicked', points: 8, halfLife: 45 },
      {
        ...rule,
        id: 'visited',
        activity: 'pageVisited',
        details: { page: story.paperGrain.page },
        points: 4,
        halfLife: 30,
      },
      { ...rule, id: 'quiz', activity: 'quizFinished', points: 6, capInAll: 6, halfLife: null },
      { ...rule, id: 'session', activity: 'sessionAttended', points: 10, halfLife: 60 },
    ],
    profile: [
      { id: 'letter', when: { kind: 'topic', topic: story.letter.topics.letter }, points: 3 },
      { id: 'buyer', when: { kind: 'hasTag', tag: story.shop.buyer }, points: 5 },
    ],
    bands: [
      { id: 'cool', name: 'Cool', from: null },
      { id: 'warm', name: 'Warm', from: 8 },
      { id: 'hot', name: 'Hot', from: 20 },
    ],
  }
}

const didNot = (question: Omit<Extract<Condition, { kind: 'did' }>, 'kind' | 'atLeast'>): Condition => ({
  kind: 'not',
  of: { kind: 'did', atLeast: 1, ...question },
})

/** Segments that the story's owner uses. */
function segmentsOf(story: Story, scorecard: number): { name: string; tree: Condition }[] {
  const subscribed: Condition = { kind: 'state', is: ['subscribed'] }
  return [
    {
      name: 'Ready for the course',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          didNot({ activity: 'productBought', details: { product: story.shop.course } }),
          {
            kind: 'any',
            of: [
              { kind: 'not', of: { kind: 'band', scorecard, band: 'cool' } },
              {
                kind: 'did',
                activity: 'emailClicked',
                details: {},
                atLeast: 2,
                within: { kind: 'last', amount: 60, unit: 'days' },
              },
            ],
          },
        ],
      },
    },
    {
      name: 'Gone quiet',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          didNot({
            activity: 'emailOpened',
            details: {},
            within: { kind: 'last', amount: 90, unit: 'days' },
          }),
          { kind: 'not', of: { kind: 'created', within: { kind: 'last', amount: 90, unit: 'days' } } },
        ],
      },
    },
    {
      name: 'Around Dublin and London',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          { kind: 'field', field: 'country', test: { test: 'isAnyOf', values: ['IE', 'GB'] } },
        ],
      },
    },
    {
      name: 'Sewing on Sundays',
      tree: {
        kind: 'any',
        of: [
          {
            kind: 'did',
            activity: 'sessionAttended',
            details: { session: story.sessions.stitchAlong },
            atLeast: 1,
          },
          { kind: 'topic', topic: story.letter.topics.sessions },
        ],
      },
    },
  ]
}

/** Makes the scorecard and the segments of the story, with scores for everybody and a trend. */
export async function create(platform: Platform, story: Story): Promise<void> {
  const { database: q, clock } = platform
  const now = clock.now()
  const made = await q.row<{ id: number }>(
    'insert into scorecard (name, card, created_at, updated_at) values ($1, $2, $3, $3) returning id',
    ['Interest', JSON.stringify(interest(story)), new Date(now)],
  )
  const scorecard = made?.id ?? 0
  await rescoreEverybody(platform, scorecard, unwatched)
  for (const { name, tree } of segmentsOf(story, scorecard)) {
    const segment = await q.row<{ id: number }>(
      'insert into segment (name, tree, created_at, updated_at) values ($1, $2, $3, $3) returning id',
      [name, JSON.stringify(tree), new Date(now - 90 * day)],
    )
    for (let week = weeksOfTrend; week >= 0; week -= 1) {
      // As of then, as far as the condition asks about time; tags and states are those of today.
      const then = now - week * 7 * day
      const before = {
        kind: 'created',
        within: { kind: 'between', from: '2000-01-01', to: dateOf(then, business.zone) },
      } as const
      const people = await countContacts(
        q,
        { search: '', tree: { kind: 'all', of: [tree, before] }, rehearsal: 'no' },
        then,
      )
      await q.rows(
        'insert into segment_count (segment_id, day, people) values ($1, $2, $3) on conflict do nothing',
        [segment?.id, new Date(then), people],
      )
    }
  }
}
