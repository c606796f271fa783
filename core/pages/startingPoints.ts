import { composer } from '../blocks/compose.ts'
import { purposes, type PageContent, type PagePurpose } from './page.ts'
import { capturePoints } from './startingPoints/capture.ts'
import { deliveryPoints } from './startingPoints/delivery.ts'
import { sellingPoints } from './startingPoints/selling.ts'
import type { StartingPoint } from './startingPoints/startingPoint.ts'

const all: readonly StartingPoint[] = [...capturePoints, ...deliveryPoints, ...sellingPoints]

/** Starting points for a purpose; those for any page follow. */
export const startingPointsFor = (purpose: PagePurpose): StartingPoint[] => [
  ...all.filter((point) => point.purpose === purpose),
  ...(purpose === 'any' ? [] : all.filter((point) => point.purpose === 'any')),
]

/** What a new page says that begins from this point. */
export const contentFrom = (
  point: StartingPoint,
  purpose: PagePurpose,
  title: string,
  newId: () => string,
): PageContent => ({
  title,
  description: '',
  language: 'en',
  listed: purposes[purpose].listed,
  sharing: { title: '', words: '', picture: null },
  icon: null,
  limitedTo: null,
  opens: { when: 'atOnce' },
  document: point.document(composer(newId)),
})
