import type { SearchHit } from '../../contract/search.ts'
import { listContacts } from '../audience/people/contactList.ts'
import { contactQuery } from '../../contract/audience/people.ts'
import { listFollowups } from '../followups/views.ts'
import type { Platform } from '../platform.ts'

const hitsEach = 6

/** Things of the business whose name holds what was typed. */
export async function search(platform: Platform, typed: string): Promise<SearchHit[]> {
  if (typed === '') return []
  const [followups, people] = await Promise.all([
    listFollowups(platform),
    listContacts(
      platform.database,
      contactQuery.parse({ search: typed, size: hitsEach }),
      platform.clock.now(),
    ),
  ])
  return [
    ...followups
      .filter(({ name }) => name.toLowerCase().includes(typed.toLowerCase()))
      .slice(0, hitsEach)
      .map(({ id, name, state }) => ({
        kind: 'followup' as const,
        title: name,
        detail: state,
        to: `/follow-ups/${id}`,
      })),
    ...people.rows.map(({ id, name, address }) => ({
      kind: 'person' as const,
      title: name || address,
      detail: address,
      to: `/people/${id}`,
    })),
  ]
}
