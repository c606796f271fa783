import type { SearchHit } from '../../contract/search.ts'
import { containing, listContacts } from '../audience/people/contactList.ts'
import { contactQuery } from '../../contract/audience/people.ts'
import type { Platform } from '../platform.ts'

const hitsEach = 6

/** Where the things that are found by their name are opened. */
const paths = { followup: '/follow-ups', funnel: '/funnels' } as const

/** Things of the business whose name holds what was typed. */
export async function search({ database, clock }: Platform, typed: string): Promise<SearchHit[]> {
  if (typed === '') return []
  const [things, people] = await Promise.all([
    database.rows<{ kind: keyof typeof paths; id: number; name: string; state: string }>(
      `(select 'funnel' kind, id, name,
          case when archived_at is not null then 'archived' when live_at is null then 'draft' else 'live' end state
        from funnel where lower(name) like $1 order by name limit ${hitsEach})
       union all
       (select 'followup', id, name, state from followup where lower(name) like $1 order by name limit ${hitsEach})`,
      [containing(typed.toLowerCase())],
    ),
    listContacts(database, contactQuery.parse({ search: typed, size: hitsEach }), clock.now()),
  ])
  return [
    ...things.map(({ kind, id, name, state }) => ({
      kind,
      title: name,
      detail: state,
      to: `${paths[kind]}/${id}`,
    })),
    ...people.rows.map(({ id, name, address }) => ({
      kind: 'person' as const,
      title: name || address,
      detail: address,
      to: `/people/${id}`,
    })),
  ]
}
