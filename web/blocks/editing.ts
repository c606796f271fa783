import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import type { BlockDocument, Section } from '../../core/blocks/document.ts'
import {
  copyPart,
  edit,
  EditRefused,
  findPart,
  isSection,
  neighbouringPlace,
  type Operation,
  type Part,
  type Place,
} from '../../core/blocks/operations.ts'

/** An id for a part: 50 random bits. */
export const newPartId = (): string =>
  [...crypto.getRandomValues(new Uint8Array(10))].map((byte) => (byte % 36).toString(36)).join('')

interface Done {
  operation: Operation
  undo: Operation
  /** Edits of the same text in a row are undone together. */
  series: string | null
}

/** A document that is being edited: every edit is an operation that can be undone. */
export interface Editing {
  document: ShallowRef<BlockDocument>
  selected: Ref<string | null>
  part: ComputedRef<Part | null>
  canUndo: ComputedRef<boolean>
  canRedo: ComputedRef<boolean>
  /** Why the last edit could not be made. */
  refused: Ref<string | null>
  /** Counts the edits, undone ones too. */
  edits: Ref<number>
  /** @param series a name for edits that are undone together, such as the letters of one text */
  apply: (operation: Operation, series?: string) => boolean
  change: (part: Part, series?: string) => boolean
  undo: () => void
  redo: () => void
  /** Begins with another document; nothing of the old one can be brought back. */
  open: (document: BlockDocument) => void
  remove: (id: string) => void
  move: (id: string, step: -1 | 1) => void
  duplicate: (id: string) => void
  /** Puts a copy of a part after the selected one. */
  paste: (part: Part) => void
  insert: (part: Part, at: Place) => void
  /** Puts other sections in the place of all that there are; undone in one step. */
  replaceAll: (sections: readonly Section[]) => void
}

/** The place after a part, for a part of the same or of the other sort. */
export function placeAfter(document: BlockDocument, id: string | null, section: boolean): Place {
  const found = id === null ? undefined : findPart(document, id)
  if (section) {
    const within = document.sections.findIndex(
      (each) =>
        each.id === id ||
        each.columns.some((column) => column.id === id || column.blocks.some((block) => block.id === id)),
    )
    return { column: null, index: within < 0 ? document.sections.length : within + 1 }
  }
  if (found && !isSection(found.part)) return { column: found.at.column, index: found.at.index + 1 }
  const into = found && isSection(found.part) ? found.part : document.sections.at(-1)
  return { column: into?.columns[0]?.id ?? null, index: into?.columns[0]?.blocks.length ?? 0 }
}

export function useEditing(initial: BlockDocument): Editing {
  const document = shallowRef(initial)
  const selected = ref<string | null>(null)
  const refused = ref<string | null>(null)
  const edits = ref(0)
  const done = shallowRef<Done[]>([])
  const undone = shallowRef<Done[]>([])

  function attempt(operation: Operation): Operation | null {
    refused.value = null
    try {
      const { document: next, undo } = edit(document.value, operation)
      document.value = next
      edits.value += 1
      return undo
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error
      refused.value = error.message
      return null
    }
  }

  function apply(operation: Operation, series?: string): boolean {
    const undo = attempt(operation)
    if (!undo) return false
    const last = done.value.at(-1)
    undone.value = []
    if (series !== undefined && last?.series === series) {
      last.operation = operation
      return true
    }
    done.value = [...done.value, { operation, undo, series: series ?? null }]
    return true
  }

  const part = computed(() =>
    selected.value === null ? null : (findPart(document.value, selected.value)?.part ?? null),
  )

  function insert(given: Part, at: Place): void {
    if (apply({ do: 'insert', part: given, at })) selected.value = given.id
  }

  function shift(from: ShallowRef<Done[]>, to: ShallowRef<Done[]>, which: 'undo' | 'operation'): void {
    const last = from.value.at(-1)
    if (!last) return
    from.value = from.value.slice(0, -1)
    const back = attempt(last[which])
    if (back) to.value = [...to.value, { ...last, series: null }]
    if (part.value === null) selected.value = null
  }

  return {
    document,
    selected,
    part,
    refused,
    edits,
    canUndo: computed(() => done.value.length > 0),
    canRedo: computed(() => undone.value.length > 0),
    apply,
    change: (next, series) => apply({ do: 'change', part: next }, series),
    undo: () => shift(done, undone, 'undo'),
    redo: () => shift(undone, done, 'operation'),
    open(next) {
      document.value = next
      done.value = []
      undone.value = []
      selected.value = null
      refused.value = null
    },
    remove(id) {
      const after = nextOf(document.value, id)
      if (apply({ do: 'remove', id })) selected.value = after
    },
    move(id, step) {
      const to = neighbouringPlace(document.value, id, step)
      if (to) apply({ do: 'move', id, to })
    },
    duplicate(id) {
      const found = findPart(document.value, id)
      if (found) insert(copyPart(found.part, newPartId), { ...found.at, index: found.at.index + 1 })
    },
    paste(given) {
      insert(copyPart(given, newPartId), placeAfter(document.value, selected.value, isSection(given)))
    },
    insert,
    replaceAll(sections) {
      const removed = document.value.sections.map(({ id }): Operation => ({ do: 'remove', id }))
      const inserted = sections.map((section, index): Operation => ({
        do: 'insert',
        part: section,
        at: { column: null, index },
      }))
      selected.value = null
      apply({ do: 'several', operations: [...removed, ...inserted] })
    },
  }
}

/** What is selected once a part is gone: the one after it, or before. */
function nextOf({ sections }: BlockDocument, id: string): string | null {
  const ids = sections.flatMap((section) => [
    section.id,
    ...section.columns.flatMap(({ blocks }) => blocks.map((block) => block.id)),
  ])
  const own = sections.find((section) => section.id === id)
  const gone = new Set([id, ...(own?.columns.flatMap(({ blocks }) => blocks.map((block) => block.id)) ?? [])])
  const rest = ids.filter((each) => !gone.has(each))
  const before = ids.slice(0, ids.indexOf(id)).filter((each) => !gone.has(each)).length
  return rest[before] ?? rest[before - 1] ?? null
}
