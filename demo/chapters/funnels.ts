import type { Goal, Station } from '../../core/funnels/funnel.ts'
import { createFunnel } from '../../server/funnels/funnels.ts'
import { archiveFunnel, openFunnel } from '../../server/funnels/goingLive.ts'
import type { Queries } from '../../server/database/connect.ts'
import { signInOf } from '../accounts.ts'

/** A funnel of the story: the paths of its pages in order, or an address elsewhere with its name. */
interface Told {
  name: string
  goal: Goal
  labels: string[]
  line: (string | { name: string; url: string })[]
  state?: 'archived'
}

const told: readonly Told[] = [
  {
    name: 'Template pack',
    goal: 'list',
    labels: ['active'],
    line: ['template-pack', 'template-pack/thanks', 'template-pack/file', 'first-journal'],
  },
  {
    name: 'Paper grain lessons',
    goal: 'course',
    labels: ['active'],
    line: [
      'paper-grain',
      'paper-grain/three-tests',
      'paper-grain/when-it-goes-wrong',
      'paper-grain/at-the-bench',
    ],
  },
  {
    name: 'First Journal sale',
    goal: 'sell',
    labels: ['active'],
    line: [
      'first-journal',
      'first-journal/order',
      'first-journal/workshop',
      'first-journal/templates',
      'first-journal/thanks',
    ],
  },
  {
    name: 'Field Guide',
    goal: 'sell',
    labels: ['active'],
    line: ['field-guide', 'field-guide/order', 'field-guide/thanks'],
  },
  { name: 'Bindery letter', goal: 'list', labels: ['active'], line: ['letter', 'letter/confirmed'] },
  {
    name: 'Spring fair',
    goal: 'list',
    labels: ['fairs'],
    line: ['template-pack', 'template-pack/thanks'],
    state: 'archived',
  },
]

/** Ties the pages of the story into its funnels. */
export async function create(q: Queries, at: Date): Promise<void> {
  const pages = await q.rows<{ id: number; path: string }>('select id, path from page')
  const doing = { by: signInOf.name, at }
  const byPath = new Map(pages.map(({ id, path }) => [path, id]))
  for (const { name, goal, labels, line: paths, state } of told) {
    const line = paths.flatMap((each, i): Station[] => {
      if (typeof each !== 'string') return [{ kind: 'outside', id: `s${i}`, ...each }]
      const page = byPath.get(each)
      return page === undefined ? [] : [{ kind: 'page', id: `s${i}`, page }]
    })
    const id = await createFunnel(q, { name, goal, labels, line }, doing)
    await openFunnel(q, id, 'everybody', doing)
    if (state === 'archived') await archiveFunnel(q, id, true, at)
  }
}
