import type { ProgramEditing } from './programEditing.ts'

/** What keys do beside editing. */
interface Desk {
  askInsert: () => void
  /** Goes to what can be set about the selected step. */
  inspect: () => void
}

/** The keys of the timetable; arrows walk along it by themselves. */
export function timetableKeys(editing: ProgramEditing, desk: Desk): (event: KeyboardEvent) => void {
  const withControl: Record<string, () => void> = {
    z: editing.undo,
    y: editing.redo,
    c: editing.copy,
    x: () => {
      editing.copy()
      editing.remove()
    },
    v: editing.paste,
    d: editing.duplicate,
  }
  const withAlt: Record<string, () => void> = {
    ArrowLeft: () => editing.shift(-1),
    ArrowRight: () => editing.shift(1),
    ArrowUp: () => editing.shiftLane(-1),
    ArrowDown: () => editing.shiftLane(1),
  }
  const plain: Record<string, () => void> = {
    Insert: desk.askInsert,
    '/': desk.askInsert,
    Delete: editing.remove,
    Enter: desk.inspect,
    Escape: () => editing.select(null),
  }
  return (event) => {
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
    const control = event.ctrlKey || event.metaKey
    // Enter on an insert line is its own click.
    if (key === 'Enter' && (event.target as HTMLElement).classList.contains('insert')) return
    const action = control
      ? withControl[event.shiftKey && key === 'z' ? 'y' : key]
      : event.altKey
        ? withAlt[key]
        : plain[key]
    if (!action) return
    event.preventDefault()
    action()
  }
}
