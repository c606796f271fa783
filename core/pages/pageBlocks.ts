import type { Block, BlockKind } from '../blocks/block.ts'
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
} from './blocks/actions.ts'
import { lessonCard, productCard, sessionCard } from './blocks/cards.ts'
import { logo, picture, pictureRow, video } from './blocks/pictures.ts'
import { nextOffer, orderForm, purchase } from './blocks/selling.ts'
import { heading, list, questions, quotes, text } from './blocks/words.ts'
import type { PageBlock } from './context.ts'

const pageBlocks: { [K in BlockKind]: PageBlock<Block<K>> } = {
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

/** How blocks of this kind are drawn on a page. */
export const pageBlockOf = (kind: BlockKind): PageBlock<Block> => pageBlocks[kind] as PageBlock<Block>
