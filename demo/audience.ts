import { Readable } from 'node:stream'
import type { ImportChoices } from '../contract/audience/imports.ts'
import { dateOf } from '../core/audience/segments/within.ts'
import { countContacts } from '../server/audience/people/contactList.ts'
import { runImportCheck, runImport, viewImport } from '../server/audience/imports/imports.ts'
import { takeUpload } from '../server/audience/imports/upload.ts'
import { rescoreEverybody } from '../server/audience/scores/rescoring.ts'
import type { Platform } from '../server/platform.ts'
import type { Shelf } from './habits.ts'
import { fairList, interest, segmentsOf } from './shelf.ts'
import { business } from './story.ts'

const quiet = { report: () => Promise.resolve() }
const day = 86_400_000
const weeksOfTrend = 12

/** Takes the list of the fair in by the same import that its owner would use. */
export async function importFairList(platform: Platform): Promise<void> {
  const id = await takeUpload(platform, 'Spring fair.csv', Readable.from([Buffer.from(fairList)]))
  const { choices } = await viewImport(platform.database, id)
  const request: ImportChoices = {
    ...choices,
    tags: ['Spring fair'],
    permission: 'agreed',
    statement: 'Wrote their address into the book at our table at the spring fair, to get the letter',
  }
  await platform.database.rows('update import set choices = $2 where id = $1', [id, JSON.stringify(request)])
  await runImportCheck(platform, id, quiet)
  await runImport(platform, id, quiet)
}

/** Makes the scorecard and the segments of the story, with scores for everybody and a trend. */
export async function describeAudience(platform: Platform, shelf: Shelf): Promise<void> {
  const { database: q, clock } = platform
  const now = clock.now()
  const made = await q.row<{ id: number }>(
    'insert into scorecard (name, card, created_at, updated_at) values ($1, $2, $3, $3) returning id',
    ['Interest', JSON.stringify(interest(shelf)), new Date(now)],
  )
  const scorecard = made?.id ?? 0
  await rescoreEverybody(platform, scorecard, quiet)
  for (const { name, tree } of segmentsOf(shelf, scorecard)) {
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
