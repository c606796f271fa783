import type { Block } from '../blocks/block.ts'
import type { BlockDocument } from '../blocks/document.ts'
import { fieldKey } from '../blocks/mergeText.ts'
import { blockFields, documentLinks, textOf, unknownMergeFields, walk } from '../blocks/walk.ts'
import type { PageContent, PagePurpose } from './page.ts'

/** Something that would go wrong, or could be better, were the page live now. */
export interface Finding {
  /** A page with an error is not published. */
  level: 'error' | 'advice'
  words: string
  /** The part that it is about, if it is about one. */
  part: string | null
}

/** What the rest of the install says about the things that a page speaks of. */
export interface Surroundings {
  /** Pages that visitors can open. */
  livePages: ReadonlySet<number>
  pageNames: Readonly<Record<number, string>>
  /** Forms that visitors can use. */
  liveForms: ReadonlySet<number>
  livePopUps: ReadonlySet<number>
  namedLinks: ReadonlySet<number>
  liveJunctions: ReadonlySet<number>
  liveQuizzes: ReadonlySet<number>
  videoHosts: readonly string[]
  /** Keys of the merge fields that there are. */
  mergeNames: ReadonlySet<string>
  /** Products on sale, with the ids of their prices. */
  products: ReadonlyMap<number, ReadonlySet<string>>
  /** Dates and times of shared details, by the key of the name. */
  moments: ReadonlyMap<string, number>
  /** Shared details that are pictures. */
  pictureDetails: ReadonlySet<number>
  now: number
  /** Pairs of the brand's colours that are hard to read, in words. */
  faint: readonly string[]
}

const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })
const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })

/** What is wrong with one more offer. */
function findingsOfNextOffer(
  { id, offer, label, decline }: Block<'nextOffer'>,
  products: Surroundings['products'],
): Finding[] {
  const { product, price } = offer
  const known = product === null ? undefined : products.get(product)
  return [
    ...(product === null ? [error('Choose what is offered after paying', id)] : []),
    ...(product !== null && (!known || (price !== null && !known.has(price)))
      ? [error('Put on sale first what is offered after paying, or choose again', id)]
      : []),
    ...(label.trim() && decline.trim() ? [] : [error('Write what a yes says, and what a no says', id)]),
  ]
}

/** What is wrong with an order form: with what it offers. */
function findingsOfOrderForm(
  { id, offers, extra, terms, termsPage, label }: Block<'orderForm'>,
  products: Surroundings['products'],
): Finding[] {
  const all = [...offers, ...(extra ? [extra] : [])]
  const isOpen = ({ product }: (typeof all)[number]): boolean => product === null
  const isGone = ({ product, price }: (typeof all)[number]): boolean =>
    product !== null && !(price === null ? products.has(product) : products.get(product)?.has(price))
  const names = offers.map(({ product, price }) => `${product} ${price}`)
  return [
    ...(offers.length === 0 || all.some(isOpen) ? [error('Choose what the order form sells', id)] : []),
    ...(all.some(isGone) ? [error('Put on sale first what the order form sells, or choose again', id)] : []),
    ...(new Set(names).size < names.length ? [error('The order form offers the same twice', id)] : []),
    ...(label.trim() ? [] : [error('Write what the button of the order form says', id)]),
    ...(terms !== '' && termsPage === null
      ? [advice('Choose the page on which buyers can read the terms', id)]
      : []),
  ]
}

/** What is wrong with one block by itself. */
function findingsOfBlock(
  block: Block,
  { videoHosts, liveForms, liveQuizzes, pictureDetails, products }: Surroundings,
): Finding[] {
  switch (block.kind) {
    case 'picture':
      if (block.detail !== null && !pictureDetails.has(block.detail))
        return [error('The shared detail whose picture stands here is gone: choose another', block.id)]
      if (block.picture === null && block.detail === null)
        return [error('Choose a picture, or remove this one', block.id)]
      return block.decorative || block.alt.trim()
        ? []
        : [error('Say what the picture shows, or mark it as decorative', block.id)]
    case 'pictureRow':
      return block.pictures.flatMap(({ picture, decorative, alt }, i) => {
        if (picture === null) return [error(`Choose picture ${i + 1}, or take it out`, block.id)]
        return decorative || alt.trim() ? [] : [error(`Say what picture ${i + 1} shows`, block.id)]
      })
    case 'button':
      if (!block.label.trim()) return [error('Write what the button says', block.id)]
      return block.target.to === 'nowhere' ? [error('Choose where the button leads', block.id)] : []
    case 'form':
      if (block.form === null) return [error('Choose a form', block.id)]
      return liveForms.has(block.form) ? [] : [error('Publish the form that stands here first', block.id)]
    case 'quiz':
      if (block.quiz === null) return [error('Choose a quiz', block.id)]
      return liveQuizzes.has(block.quiz) ? [] : [error('Publish the quiz that stands here first', block.id)]
    case 'video': {
      if (block.source === null) return [error('Choose a video, or remove this one', block.id)]
      if (block.source.from === 'file')
        return block.source.captions === null
          ? [advice('Add captions: many watch without sound', block.id)]
          : []
      const { hostname } = new URL(block.source.url)
      return videoHosts.includes(hostname)
        ? []
        : [error(`${hostname} is not on your list of video hosts (Site settings)`, block.id)]
    }
    case 'countdown':
      return block.until === null && block.deadline === null
        ? [error('Choose the date or the personal deadline that is counted down to', block.id)]
        : []
    case 'lessonList':
      return block.course === null ? [error('Choose the course whose lessons are listed', block.id)] : []
    case 'lessonCard':
      return block.page === null ? [error('Choose the lesson of this card', block.id)] : []
    case 'sessionCard':
      return block.at === null ? [error('Choose when the session is', block.id)] : []
    case 'productCard':
      return block.picture !== null && !block.alt.trim()
        ? [error('Say what the picture of the product shows', block.id)]
        : []
    case 'heading':
    case 'text':
      return textOf(block).length ? [] : [advice('Nothing is written here yet', block.id)]
    case 'nextOffer':
      return findingsOfNextOffer(block, products)
    case 'orderForm':
      return findingsOfOrderForm(block, products)
    case 'list':
    case 'purchase':
    case 'quotes':
    case 'questions':
    case 'logo':
    case 'priceCard':
    case 'socialLinks':
    case 'divider':
    case 'spacer':
    case 'ownHtml':
      return []
  }
}

const countOf = (content: PageContent, kind: Block['kind']): number =>
  [...walk(content.document)].filter(({ block }) => block.kind === kind).length

/** Is a product sold by two parts of a page? Prices of one product beside each other in one form are no two offers. */
function hasTwoOffers(document: BlockDocument): boolean {
  const sold = [...walk(document)].flatMap(({ block }): (number | null)[] => {
    if (block.kind === 'nextOffer') return [block.offer.product]
    if (block.kind !== 'orderForm') return []
    return [
      ...new Set(block.offers.map(({ product }) => product)),
      ...(block.extra ? [block.extra.product] : []),
    ]
  })
  const known = sold.filter((product) => product !== null)
  return new Set(known).size < known.length
}

/** Said of a page that one gets to by a form only. */
export const mayBeListed = 'Search engines may list this page: people would find it without the form'

/** What is asked of a page as a whole, by its purpose. Common practice of the trade. */
function findingsOfPurpose(content: PageContent, purpose: PagePurpose): Finding[] {
  const found: Finding[] = []
  const tops = [...walk(content.document)].filter(
    ({ block }) => block.kind === 'heading' && block.level === 1,
  )
  if (tops.length === 0) found.push(advice('Begin with a heading of level 1: it is the page’s promise'))
  if (tops.length > 1) found.push(advice('Two headings of level 1: keep one promise', tops[1]?.block.id))
  if (hasTwoOffers(content.document))
    found.push(advice('The same product is offered twice on this page: keep one of the offers'))
  if (purpose === 'landing' && countOf(content, 'form') === 0)
    found.push(advice('A landing page without a form captures nobody'))
  if ((purpose === 'file' || purpose === 'thankYou' || purpose === 'confirm') && content.listed)
    found.push(advice(mayBeListed))
  if (content.listed && !content.description.trim())
    found.push(advice('Write a description: search engines show it'))
  return found
}

/** Says that a field names nothing. @param field as it is written */
export const unknownFieldWords = (field: string): string =>
  `${field} is no merge field: write it as “Insert merge field” does`

/** Dates of shared details that have passed: once a block and name. */
const pastMoments = (document: BlockDocument, { moments, now }: Surroundings): Finding[] =>
  [...walk(document)].flatMap(({ block }) =>
    [...new Map(blockFields(block).map(({ name }) => [fieldKey(name), name]))]
      .filter(([key]) => (moments.get(key) ?? Infinity) < now)
      .map(([, name]) => advice(`“${name}” is past: change it under Shared details`, block.id)),
  )

/** What is wrong with the parts of a document, and with where they lead. */
export function findingsOfDocument(document: BlockDocument, around: Surroundings): Finding[] {
  const found = [
    ...[...walk(document)].flatMap(({ block }) => findingsOfBlock(block, around)),
    ...unknownMergeFields(document, around.mergeNames).map(({ block, field }) =>
      error(unknownFieldWords(field), block),
    ),
    ...pastMoments(document, around),
    ...documentLinks(document).flatMap(({ block, target, label }) => {
      if (target.to === 'popUp' && !around.livePopUps.has(target.popUp))
        return [error(`“${label}” opens a pop-up that is not live`, block)]
      if (target.to === 'link' && !around.namedLinks.has(target.link))
        return [error(`“${label}” leads by a named link that was deleted`, block)]
      if (target.to === 'junction' && !around.liveJunctions.has(target.junction))
        return [advice(`“${label}” leads to a junction that is not live`, block)]
      if (target.to === 'quiz' && !around.liveQuizzes.has(target.quiz))
        return [advice(`“${label}” leads to a quiz that is not live`, block)]
      if (target.to === 'product' && !around.products.has(target.product))
        return [advice(`“${label}” leads to a product that is not on sale`, block)]
      if (target.to !== 'page' || around.livePages.has(target.page)) return []
      const name = around.pageNames[target.page]
      return [
        name === undefined
          ? error(`“${label}” leads to a page that was deleted`, block)
          : advice(`“${label}” leads to “${name}”, which is not live`, block),
      ]
    }),
  ]
  return found.sort((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
}

/** Everything that would go wrong or could be better, errors first. */
export const findingsOf = (content: PageContent, purpose: PagePurpose, around: Surroundings): Finding[] =>
  [...findingsOfPurpose(content, purpose), ...findingsOfDocument(content.document, around)].sort(
    (a, b) => Number(b.level === 'error') - Number(a.level === 'error'),
  )
