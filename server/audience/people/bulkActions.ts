import { z } from 'zod'
import { bulkRequest, type BulkRequest } from '../../../contract/audience/people.ts'
import { createBinds } from '../../database/binds.ts'
import { startWork, type Progress } from '../../work/longWork.ts'
import type { Platform } from '../../platform.ts'
import { countContacts, selectionSql } from './contactList.ts'
import { addTags, removeTags, tagsNamed } from '../describing/tags.ts'
import { enrolManually } from '../../followups/manualEnrolment.ts'

/** People handled in one round of statements. */
const batch = 5_000

const payload = bulkRequest.extend({ by: z.string() })

const titles: Record<BulkRequest['does']['kind'], string> = {
  addTag: 'Add a tag to',
  removeTag: 'Remove a tag from',
  startFollowup: 'Start a follow-up for',
}

/** Begins to do something to everybody who is meant. @returns the id of the work */
export async function startBulkAction(platform: Platform, request: BulkRequest, by: string): Promise<number> {
  const people = await countContacts(platform.database, request.who, platform.clock.now())
  const title = `${titles[request.does.kind]} ${people} ${people === 1 ? 'person' : 'people'}`
  return platform.database.inTransaction((tx) =>
    startWork(tx, 'bulk', title, { ...request, by }, new Date(platform.clock.now())),
  )
}

/** Does it: in one transaction, so that all of it happens or nothing. @returns what to tell */
export async function runBulkAction(platform: Platform, asked: unknown, progress: Progress): Promise<string> {
  const { who, does, by } = payload.parse(asked)
  const at = platform.clock.now()
  return platform.database.inTransaction(async (tx) => {
    const binds = createBinds()
    const meant = await selectionSql(tx, who, binds, at)
    const people = await tx.rows<{ id: number }>(
      `${binds.with} select c.id from contact c where ${meant} order by c.id`,
      binds.values,
    )
    const [tag = 0] = does.kind === 'addTag' ? await tagsNamed(tx, [does.tag], new Date(at)) : []
    for (let from = 0; from < people.length; from += batch) {
      await progress.report('processing people', from, people.length)
      const contacts = people.slice(from, from + batch).map(({ id }) => id)
      if (does.kind === 'startFollowup') await enrolManually(platform, tx, does.followup, contacts, by)
      else {
        const taggings = contacts.map((contact) => ({
          contact,
          tag: does.kind === 'removeTag' ? does.tag : tag,
          at,
        }))
        await (does.kind === 'addTag' ? addTags : removeTags)(tx, taggings, by)
      }
    }
    return `Done for ${people.length} ${people.length === 1 ? 'person' : 'people'}.`
  })
}
