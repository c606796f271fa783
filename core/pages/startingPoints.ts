import { composer } from '../blocks/compose.ts'
import type { BlockDocument } from '../blocks/document.ts'
import { walk } from '../blocks/walk.ts'
import { purposes, type PageContent, type PagePurpose } from './page.ts'
import { capturePoints } from './startingPoints/capture.ts'
import { deliveryPoints } from './startingPoints/delivery.ts'
import { orderingPoints } from './startingPoints/ordering.ts'
import { sellingPoints } from './startingPoints/selling.ts'
import type { StartingPoint } from './startingPoints/startingPoint.ts'

const all: readonly StartingPoint[] = [
  ...capturePoints,
  ...deliveryPoints,
  ...sellingPoints,
  ...orderingPoints,
]

/** Starting points for a purpose; those for any page follow. */
export const startingPointsFor = (purpose: PagePurpose): StartingPoint[] => [
  ...all.filter((point) => point.purpose === purpose),
  ...(purpose === 'any' ? [] : all.filter((point) => point.purpose === 'any')),
]

/** Is there a place for a form in it? */
export const hasForm = (point: StartingPoint): boolean =>
  [...walk(point.document(composer(countedIds())))].some(({ block }) => block.kind === 'form')

/** Ids for a document that is only looked at. */
function countedIds(): () => string {
  let made = 0
  return () => `counted${String((made += 1))}`
}

/** The same document with a form in every place for one. */
export const withForm = (document: BlockDocument, form: number | null): BlockDocument => ({
  ...document,
  sections: document.sections.map((section) => ({
    ...section,
    columns: section.columns.map((column) => ({
      ...column,
      blocks: column.blocks.map((block) => (block.kind === 'form' ? { ...block, form } : block)),
    })),
  })),
})

/** What a new page says that begins from this point. @param form that takes the places for one */
export const contentFrom = (
  point: StartingPoint,
  purpose: PagePurpose,
  title: string,
  newId: () => string,
  form: number | null = null,
): PageContent => ({
  title,
  description: '',
  language: 'en',
  listed: purposes[purpose].listed,
  sharing: { title: '', words: '', picture: null },
  icon: null,
  limitedTo: null,
  opens: { when: 'atOnce' },
  deadline: null,
  document: withForm(point.document(composer(newId)), form),
})
