import { ref, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import type { z } from 'zod'
import type { archiveRequest, labelledRow, ThingState } from '../../contract/drafts.ts'
import type { created, Route } from '../../contract/route.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'

/** A thing of the Library as its list has it. */
export interface Thing {
  id: number
  name: string
  state: ThingState
}

/** A thing that has labels, and an address of its own in most cases. */
export type LabelledThing = z.infer<typeof labelledRow> & { path?: string }

type CopyRoute = Route<`${string}/:id/copy`, { answer: typeof created }>

interface ThingRoutes {
  archive: Route<`${string}/:id/archive`, { body: typeof archiveRequest }>
  delete: Route<`${string}/:id/delete`, object>
}

/** Which states a list shows. */
export type StateFilter = ThingState | 'current'
export const stateItems: readonly { title: string; value: StateFilter }[] = [
  { title: 'Drafts and live', value: 'current' },
  { title: 'Live', value: 'live' },
  { title: 'Drafts', value: 'draft' },
  { title: 'Archived', value: 'archived' },
]
export const passesState = (filter: StateFilter, state: ThingState): boolean =>
  filter === 'current' ? state !== 'archived' : state === filter

/**
 * Deletes a thing after a question.
 * @param route that does it
 * @param done once it is gone
 */
export function useDeleting<Row extends { id: number; name: string }>(
  route: Route<`${string}/:id/delete`, object>,
  done: () => unknown = () => undefined,
) {
  const attempts = useAttempts()
  /** The one that is about to be deleted. */
  const leaving = ref(null) as Ref<Row | null>
  async function remove(): Promise<void> {
    const id = leaving.value?.id ?? 0
    if (!(await attempts.attempt(() => call(route, { params: { id } })))) return
    leaving.value = null
    await done()
  }
  return { ...attempts, leaving, remove }
}

/**
 * What can be done with things of the Library from their list: copied, put away, deleted after a question.
 * @param routes of the API that do it
 * @param copying the route that copies and where their editors are, or what asks how
 */
export function useThingActions<Row extends Thing>(
  routes: ThingRoutes,
  copying: { route: CopyRoute; path: string } | ((row: Row) => void),
) {
  const router = useRouter()
  const deleting = useDeleting<Row>(routes.delete)
  const { attempt, leaving } = deleting

  function copy(row: Row): void {
    if (typeof copying === 'function') {
      copying(row)
      return
    }
    void attempt(async () => {
      const made = await call(copying.route, { params: { id: row.id } })
      await router.push(`${copying.path}/${made.id}`)
    })
  }
  const archive = (ids: readonly number[], archived: boolean): Promise<boolean> =>
    attempt(async () => {
      for (const id of ids) await call(routes.archive, { params: { id }, body: { archived } })
    })
  const actionsOf = (row: Row) => [
    { title: 'Duplicate', run: () => copy(row) },
    row.state === 'archived'
      ? { title: 'Take out of the archive', run: () => void archive([row.id], false) }
      : { title: 'Archive', run: () => void archive([row.id], true) },
    { title: 'Delete', run: () => (leaving.value = row), destructive: true },
  ]
  return { ...deleting, archive, actionsOf }
}
