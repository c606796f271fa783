import { noMergeFields, readerValues } from '../core/blocks/mergeValues.ts'
import { safeHtml } from '../core/blocks/safeHtml.ts'
import { simpleForm } from '../core/capture/form.ts'
import { plainBrand } from '../core/pages/brand.ts'
import type { PageContext } from '../core/pages/context.ts'
import { shownOrderOf, shownPurchaseOf } from './shownOrders.ts'

/** What pages rest on besides their own content, made up: one picture, one form, one course of two lessons. */
export const pageContextOf = (given: Partial<PageContext> = {}): PageContext => ({
  brand: plainBrand,
  business: { name: 'Quillfeather Bindery', postalAddress: '4 Sizing Lane', zone: 'Europe/Dublin' },
  hrefOf: (target) => {
    if (target.to === 'web') return target.url
    if (target.to === 'path') return target.path
    return target.to === 'page' ? `/p/page-${target.page}` : null
  },
  pictureOf: (id) =>
    id === 1 ? { base: '/pictures/1-abcd', width: 800, height: 600, widths: [320, 800] } : null,
  mediaOf: (id) => `/media/${id}`,
  titleOf: (page) => `Page ${page}`,
  lessonsOf: () => [
    { page: 1, title: 'First', is: 'done' },
    { page: 2, title: 'Second', is: 'locked', at: null, words: 'opens 2 days after you begin' },
  ],
  reader: readerValues(noMergeFields, null),
  quizOf: () => null,
  originsOf: (target) => (target.to === 'web' ? [new URL(target.url).origin] : []),
  detailPicture: (detail) => (detail === 5 ? 1 : null),
  known: null,
  formOf: (id) =>
    id === 1 ? { id, version: 1, content: simpleForm({ privacy: 'Words' }), fields: [] } : null,
  orderOf: (block) => (block.offers.length > 0 ? shownOrderOf(block, { card: null }) : null),
  nextOfferOf: () => ({ title: '<b>', words: '€7', action: '/p/next', noHref: null, fault: '"' }),
  purchase: shownPurchaseOf(),
  deadlineOf: () => null,
  shows: () => true,
  videoHosts: ['films.example'],
  safeHtml,
  form: { block: null, values: {}, faults: {} },
  formAction: '/p/here',
  now: Date.parse('2026-11-24T10:00:00Z'),
  editing: false,
  ...given,
})
