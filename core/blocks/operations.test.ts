import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyDocument, numberedIds } from '../../testing/documents.ts'
import { freshBlock } from './block.ts'
import { blockDocument, freshSection, mostBlocks, type BlockDocument } from './document.ts'
import {
  copyPart,
  edit,
  EditRefused,
  findPart,
  isSection,
  neighbouringPlace,
  withColumns,
  type Operation,
} from './operations.ts'
import { walk } from './walk.ts'

const idsOf = (document: BlockDocument): string[] => [
  ...document.sections.flatMap((section) => [section.id, ...section.columns.map(({ id }) => id)]),
  ...[...walk(document)].map(({ block }) => block.id),
]

/** An edit of a document, made of three numbers: which kind, which part, which place. Some cannot be made. */
function operationOf(
  document: BlockDocument,
  [kind, which, where]: readonly number[],
  newId: () => string,
): Operation {
  const columns = document.sections.flatMap((section) => section.columns)
  const blocks = [...walk(document)].map(({ block }) => block)
  const parts = [...document.sections, ...blocks]
  const part = parts[(which ?? 0) % Math.max(1, parts.length)]
  const column = columns[(where ?? 0) % Math.max(1, columns.length)]
  const place = { column: column?.id ?? null, index: (where ?? 0) % ((column?.blocks.length ?? 0) + 1) }
  switch ((kind ?? 0) % 6) {
    case 0:
      return { do: 'insert', part: freshBlock('heading', newId(), { words: 'New' }), at: place }
    case 1:
      return { do: 'insert', part: freshSection(newId, [1, 2]), at: { column: null, index: 0 } }
    case 2:
      return { do: 'remove', id: part?.id ?? 'nothing' }
    case 3:
      return {
        do: 'move',
        id: part?.id ?? 'nothing',
        to:
          part && isSection(part) ? { column: null, index: (where ?? 0) % document.sections.length } : place,
      }
    case 4:
      return part
        ? {
            do: 'insert',
            part: copyPart(part, newId),
            at: isSection(part) ? { column: null, index: 0 } : place,
          }
        : { do: 'remove', id: 'nothing' }
    default:
      return part
        ? { do: 'change', part: { ...part, hiddenOnPhones: !part.hiddenOnPhones } }
        : { do: 'remove', id: 'nothing' }
  }
}

const numbers = fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat()), { maxLength: 12 })

describe('edits of a document', () => {
  it('can all be undone, keep ids apart, and leave a valid document', () => {
    fc.assert(
      fc.property(anyDocument, numbers, (begun, wanted) => {
        const newId = numberedIds('new')
        let document = begun
        const undone: Operation[] = []
        for (const each of wanted)
          try {
            const { document: next, undo } = edit(document, operationOf(document, each, newId))
            document = next
            undone.unshift(undo)
            const ids = idsOf(document)
            expect(new Set(ids).size).toBe(ids.length)
            expect(blockDocument.parse(document)).toEqual(document)
          } catch (error) {
            if (!(error instanceof EditRefused)) throw error
          }
        for (const undo of undone) document = edit(document, undo).document
        expect(document).toEqual(begun)
      }),
      { numRuns: 300 },
    )
  })

  it('in a row are undone as one', () => {
    const newId = numberedIds('row')
    const begun: BlockDocument = { sections: [freshSection(newId)] }
    const column = begun.sections[0]!.columns[0]!.id
    const operations: Operation[] = ['one', 'two'].map((words, index) => ({
      do: 'insert',
      part: freshBlock('heading', newId(), { words }),
      at: { column, index },
    }))
    const { document, undo } = edit(begun, { do: 'several', operations })
    expect([...walk(document)]).toHaveLength(2)
    expect(edit(document, undo).document).toEqual(begun)
  })

  it('that cannot be made are refused, and change nothing', () => {
    const newId = numberedIds('ref')
    const section = freshSection(newId, [1], [[freshBlock('divider', newId())]])
    const document: BlockDocument = { sections: [section] }
    const refused = (operation: Operation): void => {
      expect(() => edit(document, operation)).toThrow(EditRefused)
    }
    refused({ do: 'remove', id: 'nobody' })
    refused({ do: 'insert', part: freshSection(newId), at: { column: section.columns[0]!.id, index: 0 } })
    refused({ do: 'insert', part: freshBlock('divider', newId()), at: { column: 'nowhere', index: 0 } })
    refused({
      do: 'insert',
      part: freshBlock('divider', newId()),
      at: { column: section.columns[0]!.id, index: 9 },
    })
    refused({ do: 'change', part: freshBlock('heading', section.columns[0]!.blocks[0]!.id) })
    expect(document.sections).toEqual([section])
  })

  it('stop at the limit, and say it', () => {
    const newId = numberedIds('max')
    const blocks = Array.from({ length: mostBlocks }, () => freshBlock('divider', newId()))
    const section = freshSection(newId, [1], [blocks])
    const at = { column: section.columns[0]!.id, index: 0 }
    expect(() =>
      edit({ sections: [section] }, { do: 'insert', part: freshBlock('divider', newId()), at }),
    ).toThrow(`At most ${mostBlocks} parts`)
  })
})

describe('ten thousand blocks', () => {
  it('are refused with the limit said, before they are looked at one by one', () => {
    const newId = numberedIds('big')
    const blocks = Array.from({ length: 10_000 }, () => freshBlock('divider', newId()))
    const read = blockDocument.safeParse({
      sections: [{ ...freshSection(newId), columns: [{ id: newId(), share: 1, blocks }] }],
    })
    expect(read.error?.issues.map(({ message }) => message)).toEqual([
      `At most ${mostBlocks} parts fit into one document`,
    ])
  })
})

describe('columns', () => {
  it('that are taken away leave their blocks in the last one', () => {
    const newId = numberedIds('col')
    const [a, b, c] = [1, 2, 3].map(() => freshBlock('divider', newId()))
    const section = freshSection(newId, [1, 1, 1], [[a!], [b!], [c!]])
    const narrower = withColumns(section, [2, 1], newId)
    expect(narrower.columns.map(({ share, blocks }) => [share, blocks.map(({ id }) => id)])).toEqual([
      [2, [a!.id]],
      [1, [b!.id, c!.id]],
    ])
    expect(withColumns(narrower, [1, 1, 1], newId).columns[2]!.blocks).toEqual([])
  })
})

describe('a step up or down', () => {
  it('goes past the neighbour, and on into the column beside', () => {
    const newId = numberedIds('step')
    const [a, b] = [freshBlock('divider', newId()), freshBlock('spacer', newId())]
    const first = freshSection(newId, [1, 1], [[a, b], []])
    const document: BlockDocument = { sections: [first, freshSection(newId)] }
    const [left, right] = first.columns
    expect(neighbouringPlace(document, a.id, -1)).toBeNull()
    expect(neighbouringPlace(document, a.id, 1)).toEqual({ column: left!.id, index: 1 })
    expect(neighbouringPlace(document, b.id, 1)).toEqual({ column: right!.id, index: 0 })
    expect(neighbouringPlace(document, first.id, 1)).toEqual({ column: null, index: 1 })
    const moved = edit(document, { do: 'move', id: b.id, to: { column: right!.id, index: 0 } }).document
    expect(findPart(moved, b.id)?.at).toEqual({ column: right!.id, index: 0 })
  })
})
