import { describe, expect, it } from 'vitest'
import { freshBlock } from '../../core/blocks/block.ts'
import { freshSection, type BlockDocument } from '../../core/blocks/document.ts'
import { walk } from '../../core/blocks/walk.ts'
import { copiedPart, copyToClipboard } from './clipboard.ts'
import { newPartId, placeAfter, useEditing } from './editing.ts'
import { valueAt, withValueAt } from './paths.ts'

const begin = () => {
  const [head, end] = [
    freshBlock('heading', newPartId(), { words: 'One' }),
    freshBlock('divider', newPartId()),
  ]
  const section = freshSection(newPartId, [1, 1], [[head, end], []])
  const document: BlockDocument = { sections: [section] }
  return { document, section, head, end, editing: useEditing(document) }
}
const kindsOf = (document: BlockDocument): string[] => [...walk(document)].map(({ block }) => block.kind)

describe('a document that is edited', () => {
  it('undoes the letters of one text together, and redoes them', () => {
    const { editing, head, document } = begin()
    for (const words of ['T', 'Tw', 'Two']) editing.change({ ...head, words }, 'write head')
    editing.change({ ...head, words: 'Two', level: 1 })
    editing.undo()
    editing.undo()
    expect(editing.document.value).toEqual(document)
    expect(editing.canUndo.value).toBe(false)
    editing.redo()
    expect([...walk(editing.document.value)][0]!.block).toMatchObject({ words: 'Two', level: 2 })
    editing.change({ ...head, words: 'Other' })
    expect(editing.canRedo.value).toBe(false)
  })

  it('selects what comes next when a part is deleted, and nothing that is gone', () => {
    const { editing, section, head, end } = begin()
    editing.remove(head.id)
    expect(editing.selected.value).toBe(end.id)
    editing.remove(end.id)
    expect(editing.selected.value).toBe(section.id)
    editing.remove(section.id)
    expect(editing.selected.value).toBeNull()
    editing.undo()
    editing.undo()
    editing.undo()
    expect(kindsOf(editing.document.value)).toEqual(['heading', 'divider'])
  })

  it('puts a copied part after the selected one, with an id of its own, also into another document', () => {
    const { editing, head, end } = begin()
    copyToClipboard(head)
    const other = begin()
    other.editing.selected.value = other.end.id
    other.editing.paste(copiedPart()!)
    expect(kindsOf(other.editing.document.value)).toEqual(['heading', 'divider', 'heading'])
    expect(other.editing.selected.value).not.toBe(head.id)
    editing.selected.value = end.id
    editing.duplicate(end.id)
    expect(kindsOf(editing.document.value)).toEqual(['heading', 'divider', 'divider'])
  })

  it('has nothing to paste when something else lies there', () => {
    localStorage.setItem('nurtel-copied-part', '{"kind":"magic"}')
    expect(copiedPart()).toBeNull()
  })

  it('begins again from other sections, and takes that back in one step', () => {
    const { editing, document } = begin()
    editing.replaceAll([freshSection(newPartId), freshSection(newPartId)])
    expect(editing.document.value.sections).toHaveLength(2)
    expect(kindsOf(editing.document.value)).toEqual([])
    editing.undo()
    expect(editing.document.value).toEqual(document)
  })

  it('says why an edit cannot be made, and stays as it is', () => {
    const { editing, document } = begin()
    expect(editing.apply({ do: 'remove', id: 'nobody1' })).toBe(false)
    expect(editing.refused.value).toBe('This part is no longer there')
    expect(editing.document.value).toBe(document)
  })

  it('adds a block after the selected one, and a section after the one that it is in', () => {
    const { document, section, head } = begin()
    expect(placeAfter(document, head.id, false)).toEqual({ column: section.columns[0]!.id, index: 1 })
    expect(placeAfter(document, head.id, true)).toEqual({ column: null, index: 1 })
    expect(placeAfter(document, section.id, false)).toEqual({ column: section.columns[0]!.id, index: 2 })
    expect(placeAfter({ sections: [] }, null, true)).toEqual({ column: null, index: 0 })
  })
})

describe('a value within a part', () => {
  it('is read and changed by its path; the rest stays the same', () => {
    const part = { items: ['a', 'b'], look: { width: 'page' } }
    expect(valueAt(part, 'items.1')).toBe('b')
    expect(valueAt(part, 'nothing.there')).toBeUndefined()
    const changed = withValueAt(part, 'items.1', 'c')
    expect(changed).toEqual({ items: ['a', 'c'], look: { width: 'page' } })
    expect(changed.look).toBe(part.look)
  })
})
