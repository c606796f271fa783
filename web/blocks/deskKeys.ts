import { isSection } from '../../core/blocks/operations.ts'
import { copiedPart, copyToClipboard } from './clipboard.ts'
import type { Editing } from './editing.ts'

/** What keys do beside editing. */
interface Desk {
  /** Asks what to add after the selected part. */
  askInsert: () => void
  /** Goes into a part to write in it. */
  write: (id: string) => void
  /** Goes back to the outline. */
  leave: () => void
}

/** Copies the selected part, to be pasted here or on another page. */
export function copySelected(editing: Editing): void {
  if (editing.part.value) copyToClipboard(editing.part.value)
}

/** The keys of the outline and the sheet. While somebody writes, only undo, redo, Insert and Escape are ours. */
export function deskKeys(editing: Editing, desk: Desk): (event: KeyboardEvent) => void {
  const ofSelected = (act: (id: string) => void) => (): void => {
    if (editing.selected.value !== null) act(editing.selected.value)
  }
  const withControl: Record<string, () => void> = {
    z: editing.undo,
    y: editing.redo,
    d: ofSelected(editing.duplicate),
    c: () => copySelected(editing),
    x: () => {
      copySelected(editing)
      ofSelected(editing.remove)()
    },
    v: () => {
      const part = copiedPart()
      if (part) editing.paste(part)
    },
  }
  const plain: Record<string, () => void> = {
    Insert: desk.askInsert,
    '/': desk.askInsert,
    Delete: ofSelected(editing.remove),
    Enter: () => {
      const part = editing.part.value
      if (part && !isSection(part)) desk.write(part.id)
    },
  }

  return (event) => {
    const target = event.target as HTMLElement
    const writing = target.isContentEditable
    const control = event.ctrlKey || event.metaKey
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
    const run = (action: (() => void) | undefined): void => {
      if (!action) return
      event.preventDefault()
      action()
    }
    if (control && (!writing || key === 'z' || key === 'y'))
      run(withControl[event.shiftKey && key === 'z' ? 'y' : key])
    else if (event.altKey && (key === 'ArrowUp' || key === 'ArrowDown'))
      run(ofSelected((id) => editing.move(id, key === 'ArrowUp' ? -1 : 1)))
    else if (writing && key === '/' && target.textContent.trim() === '') run(desk.askInsert)
    else if (!writing) run(plain[key])
    else if (key === 'Insert') run(desk.askInsert)
    else if (key === 'Escape') run(desk.leave)
  }
}
