import { computed, ref, shallowRef } from 'vue'
import * as api from '../../contract/api.ts'
import type { FunnelView } from '../../contract/funnels.ts'
import { moveStation, type Station } from '../../core/funnels/funnel.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { newPartId } from '../blocks/editing.ts'

/** A fresh id for a station. */
export const newStationId = (): string => `s-${newPartId().slice(0, 16)}`

/** How often visitors are counted again while somebody looks (milliseconds). */
export const countedEvery = 60_000

/** What a thing of a funnel is called beside the funnel's own name: "landing page", not "Spring: landing page". */
export const shortName = (name: string, funnel: string): string =>
  name.startsWith(`${funnel}: `) ? name.slice(funnel.length + 2) : name

type Line = readonly Station[]

/**
 * The line of a funnel while it is changed: each change is saved at once, and can be undone.
 * @param saved is called when the server has another line than before
 */
export function useLine(id: number, saved: () => unknown) {
  const { refused, busy, attempt } = useAttempts()
  const line = shallowRef<Line>([])
  const [before, after] = [shallowRef<Line[]>([]), shallowRef<Line[]>([])]
  const revision = ref(1)

  /** Takes what the server has, where nothing is being saved. */
  function take(view: FunnelView): void {
    if (busy.value) return
    line.value = view.line
    revision.value = view.revision
  }

  async function set(next: Line): Promise<boolean> {
    const shown = line.value
    line.value = next
    const through = await attempt(async () => {
      const body = { revision: revision.value, line: [...next] }
      revision.value = (await call(api.funnels.save, { params: { id }, body })).revision
    })
    if (through) await saved()
    else line.value = shown
    return through
  }

  async function change(next: Line): Promise<void> {
    const shown = line.value
    if (JSON.stringify(next) === JSON.stringify(shown)) return
    if (!(await set(next))) return
    before.value = [...before.value, shown]
    after.value = []
  }

  /** Goes one change back, or on again. */
  async function step(from: typeof before, to: typeof before): Promise<void> {
    const next = from.value.at(-1)
    const shown = line.value
    if (!next || !(await set(next))) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, shown]
  }

  return {
    line,
    refused,
    busy,
    take,
    insert: (station: Station, at: number) =>
      change([...line.value.slice(0, at), station, ...line.value.slice(at)]),
    move: (station: string, to: number) => change(moveStation(line.value, station, to)),
    takeOut: (station: string) => change(line.value.filter((each) => each.id !== station)),
    /** Puts another page beside a station's, changes its share, or takes it out. */
    share: (station: string, other: { page: number; share: number } | null) =>
      change(
        line.value.map((each) => {
          if (each.id !== station || each.kind !== 'page') return each
          const { other: _, ...alone } = each
          return other ? { ...alone, other } : alone
        }),
      ),
    order: (ids: readonly string[]) =>
      change(ids.flatMap((each) => line.value.filter((station) => station.id === each))),
    undo: () => step(before, after),
    redo: () => step(after, before),
    canUndo: computed(() => before.value.length > 0),
    canRedo: computed(() => after.value.length > 0),
  }
}
