import type { Queries } from '../../server/database/connect.ts'
import { publishNewEmail } from '../../server/email/emails.ts'
import type { Doing } from '../../server/blocks/drafts.ts'
import { createFollowup as beginFollowup } from '../../server/followups/creating.ts'
import type { Platform } from '../../server/platform.ts'
import { signInOf } from '../accounts.ts'
import { business } from '../business.ts'
import type { Story } from '../story.ts'
import { createFollowup, createTag } from './create.ts'
import { followupLetters, type FollowupLetter } from './followupLetters.ts'
import { atelier, followupsOf } from './followupPrograms.ts'
import { liveThrough } from './followupYears.ts'

async function writeLetters(q: Queries, doing: Doing): Promise<Map<FollowupLetter, number>> {
  const ids = new Map<FollowupLetter, number>()
  for (const [name, content] of Object.entries(followupLetters))
    ids.set(name as FollowupLetter, (await publishNewEmail(q, { name, content }, doing)).id)
  return ids
}

/** Makes the follow-ups of the story, and has people live through the last weeks of them by the engine itself. */
export async function create(platform: Platform, story: Story, seed: number): Promise<void> {
  const { database, clock } = platform
  const founded = new Date(clock.now() - 300 * 86_400_000)
  const doing = { by: signInOf.name, at: founded }
  const segment = await database.row<{ id: number }>(`select id from segment where name = 'Gone quiet'`)
  const scorecard = await database.row<{ id: number }>(`select id from scorecard where name = 'Interest'`)
  const made = await database.inTransaction(async (tx) => {
    const letters = await writeLetters(tx, doing)
    const email = (name: FollowupLetter): number => letters.get(name) ?? 0
    const tags = {
      quiet: await createTag(tx, 'Quiet', 'Did not come back', founded),
      journal: await createTag(tx, 'Journal offer', 'Was offered the course', founded),
    }
    const all = followupsOf(story, {
      email,
      tags,
      segment: segment?.id ?? 0,
      scorecard: scorecard?.id ?? 0,
    })
    const followups = []
    for (const { name, program, ...rest } of all) {
      const { id } = await createFollowup(tx, name, { ...program, zone: business.zone }, founded)
      followups.push({ id, ...rest })
    }
    await beginFollowup(tx, 'Autumn Atelier', atelier(email, story.shop.course), doing)
    return followups
  })
  await liveThrough(platform, made, seed)
}
