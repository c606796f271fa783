import { z } from 'zod'
import {
  button,
  countdown,
  divider,
  form,
  lessonList,
  ownHtml,
  priceCard,
  quiz,
  socialLinks,
  spacer,
} from './kinds/actions.ts'
import { lessonCard, productCard, sessionCard } from './kinds/cards.ts'
import type { Medium, Traits } from './kinds/blockKind.ts'
import { logo, picture, pictureRow, video } from './kinds/pictures.ts'
import { nextOffer, orderForm, purchase } from './kinds/selling.ts'
import { heading, list, questions, quotes, text } from './kinds/words.ts'

const kinds = {
  heading,
  text,
  picture,
  button,
  form,
  quiz,
  list,
  quotes,
  questions,
  video,
  countdown,
  pictureRow,
  logo,
  priceCard,
  orderForm,
  nextOffer,
  purchase,
  lessonList,
  lessonCard,
  productCard,
  sessionCard,
  socialLinks,
  divider,
  spacer,
  ownHtml,
}

export type BlockKind = keyof typeof kinds

/** A block of a kind, or of any. */
export type Block<K extends BlockKind = BlockKind> = {
  [Each in K]: z.output<(typeof kinds)[Each]['shape']>
}[K]

/** Every kind, in the order in which the insert line lists them. */
export const blockKinds = Object.keys(kinds) as BlockKind[]

export const block: z.ZodType<Block> = z.discriminatedUnion('kind', [
  heading.shape,
  text.shape,
  picture.shape,
  button.shape,
  form.shape,
  quiz.shape,
  list.shape,
  quotes.shape,
  questions.shape,
  video.shape,
  countdown.shape,
  pictureRow.shape,
  logo.shape,
  priceCard.shape,
  orderForm.shape,
  nextOffer.shape,
  purchase.shape,
  lessonList.shape,
  lessonCard.shape,
  productCard.shape,
  sessionCard.shape,
  socialLinks.shape,
  divider.shape,
  spacer.shape,
  ownHtml.shape,
])

/** What must be known of a kind. */
export const traitsOf = <K extends BlockKind>(kind: K): Traits<Block<K>> =>
  kinds[kind] as unknown as Traits<Block<K>>

/** The kinds that may stand in a document of this medium. */
export const kindsIn = (medium: Medium): BlockKind[] =>
  blockKinds.filter((kind) => traitsOf(kind).media.includes(medium))

/** A new block with nothing written in it. @param given what it holds besides */
export function freshBlock<K extends BlockKind>(kind: K, id: string, given: object = {}): Block<K> {
  const { shape, fresh } = kinds[kind]
  return shape.parse({ ...fresh(), ...given, id, kind }) as Block<K>
}
