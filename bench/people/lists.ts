import { contactQuery, type ContactSort } from '../../contract/audience/people.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { countContacts, listContacts } from '../../server/audience/people/contactList.ts'
import type { TestInstall } from '../../testing/install.ts'
import { quantile, round, type Found } from '../report.ts'

const rounds = 7

async function milliseconds(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now()
  await work()
  return performance.now() - from
}

/** A segment's count beside the best SQL that we can write by hand, and pages of the list. */
export async function measureLists({ platform }: TestInstall): Promise<Found> {
  const q = platform.database
  const now = platform.clock.now()
  const [first, second] = await q.rows<{ id: number }>(
    `select tag_id id from contact_tag group by 1 order by count(*) desc, 1 limit 2`,
  )
  const tree: Condition = {
    kind: 'all',
    of: [
      { kind: 'hasTag', tag: first?.id ?? 0 },
      { kind: 'not', of: { kind: 'hasTag', tag: second?.id ?? 0 } },
      {
        kind: 'did',
        activity: 'emailClicked',
        details: {},
        atLeast: 1,
        within: { kind: 'last', amount: 30, unit: 'days' },
      },
    ],
  }
  const since = new Date(now - 30 * 86_400_000)
  let [counted, byHand] = [0, 0]
  const [ours, hand]: [number[], number[]] = [[], []]
  for (let i = 0; i < rounds; i += 1) {
    ours.push(
      await milliseconds(async () => {
        counted = await countContacts(q, { search: '', tree, rehearsal: 'no' }, now)
      }),
    )
    hand.push(
      await milliseconds(async () => {
        const found = await q.row<{ people: number }>(
          // From the few who clicked to their tags, instead of from everybody.
          `select count(*) people from (select distinct contact_id from activity
             where kind = 'emailClicked' and at between $3 and $4) a
           join contact_tag t on t.contact_id = a.contact_id and t.tag_id = $1
           join contact c on c.id = a.contact_id and not c.rehearsal
           left join contact_tag n on n.contact_id = a.contact_id and n.tag_id = $2
           where n.contact_id is null`,
          [first?.id, second?.id, since, new Date(now)],
        )
        byHand = found?.people ?? 0
      }),
    )
  }
  if (counted !== byHand) throw new Error(`the two counts differ: ${counted} and ${byHand}`)

  const pages: number[] = []
  const look = async (
    request: { search?: string; sort?: ContactSort; tree?: Condition },
    depth = 3,
  ): Promise<void> => {
    const place = { after: null as string | null }
    for (let page = 0; page < depth; page += 1) {
      const query = contactQuery.parse({ ...request, ...place })
      pages.push(
        await milliseconds(async () => {
          place.after = (await listContacts(q, query, now)).next
        }),
      )
      if (place.after === null) return
    }
  }
  const sorts: ContactSort[] = ['newest', 'oldest', 'name', 'address']
  for (const sort of sorts) await look({ sort }, 6)
  for (const search of [
    'fairburn',
    'ada',
    'clio.oakhurst',
    '77123@',
    'no such person',
    'ju',
    'rookw',
    'postbox',
  ])
    for (const sort of sorts) await look({ search, sort })
  for (const sort of sorts) await look({ sort, tree: { kind: 'hasTag', tag: first?.id ?? 0 } })

  const figures = {
    segment_ratio: round(quantile(ours, 0.5) / quantile(hand, 0.5), 2),
    segment_ms: round(quantile(ours, 0.5), 0),
    list_p95_ms: round(quantile(pages, 0.95)),
    list_max_ms: round(quantile(pages, 1)),
  }
  return {
    figures,
    lines: [
      {
        what: `segment count, median of ${rounds}`,
        ours: `${figures.segment_ms} ms`,
        yardstick: `SQL by hand: ${round(quantile(hand, 0.5), 0)} ms (${figures.segment_ratio} times)`,
      },
      { what: `a page of the list, 95 of 100 of ${pages.length}`, ours: `${figures.list_p95_ms} ms` },
      { what: '  the slowest', ours: `${figures.list_max_ms} ms` },
    ],
  }
}
