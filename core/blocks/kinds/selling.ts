import { z } from 'zod'
import { chosen, referenceId } from '../reference.ts'
import { partId } from '../richText.ts'
import { target } from '../target.ts'
import { blockKind, line, sentences } from './blockKind.ts'

const one = referenceId.nullable().default(null)

/** A product of the Library at one of its prices, or at any of them. */
export const offered = z.strictObject({ product: one, price: partId.nullable().default(null) })
export type Offered = z.infer<typeof offered>

export const mostOffers = 12

/** Where something is bought: what it is, who buys it, and the card. */
export const orderForm = blockKind(
  'orderForm',
  {
    /** Buyers choose one of these; there is no choice when there is only one. */
    offers: z.array(offered).max(mostOffers, `At most ${mostOffers} offers`).default([]),
    /** Something small that can be added with a tick. */
    extra: offered.nullable().default(null),
    extraWords: sentences.default(''),
    /** The address first, which is kept at once, and then the rest; or all of it on one page. */
    steps: z.enum(['two', 'one']).default('two'),
    name: z.enum(['none', 'first', 'whole']).default('first'),
    phone: z.boolean().default(false),
    /** Where the buyer is, for the tax. */
    country: z.boolean().default(false),
    vatNumber: z.boolean().default(false),
    coupon: z.boolean().default(false),
    /** What buyers must agree to; nothing when empty. */
    terms: z.string().max(300).default(''),
    termsPage: one,
    /** What they may agree to besides, apart from buying. */
    consent: z.string().max(500).default(''),
    topics: z.array(referenceId).max(20).default([]),
    label: z.string().max(80),
    /** A line that stands beneath the button. */
    trust: line.default(''),
  },
  () => ({ label: 'Pay now', offers: [{}] }),
  {
    name: 'order form',
    alsoFoundBy: 'checkout buy pay card sell cart',
    describe: ({ offers }) => (offers.length > 1 ? `order form: ${offers.length} offers` : 'order form'),
    text: ({ extraWords, terms, consent, label, trust }) => [extraWords, terms, consent, label, trust],
    references: ({ offers, extra, termsPage, topics }) => [
      ...chosen('products', ...offers.map(({ product }) => product), extra?.product ?? null),
      ...chosen('pages', termsPage),
      ...chosen('topics', ...topics),
    ],
  },
)

/** One more thing, for who has just paid: taken with one click, by the same card. */
export const nextOffer = blockKind(
  'nextOffer',
  {
    offer: offered.default({ product: null, price: null }),
    label: z.string().max(80),
    decline: z.string().max(80),
    /** Where they go who take it, and who do not. */
    yes: target.default({ to: 'nextStep' }),
    no: target.default({ to: 'nextStep' }),
  },
  () => ({ label: 'Yes, add it to my order', decline: 'No, thank you' }),
  {
    name: 'one more offer',
    alsoFoundBy: 'upsell downsell one click add order',
    describe: ({ label }) => (label ? `one more offer: ${label}` : 'one more offer'),
    text: ({ label, decline }) => [label, decline],
    links: ({ label, decline, yes, no }) => [
      { part: 'yes', label, target: yes },
      { part: 'no', label: decline, target: no },
    ],
    references: ({ offer }) => chosen('products', offer.product),
  },
)

/** Says by name what somebody has just bought, with the ways to it. */
export const purchase = blockKind(
  'purchase',
  {
    /** Over it; the name that was typed stands behind it. */
    greeting: line,
    words: sentences.default(''),
  },
  () => ({ greeting: 'Thank you' }),
  {
    name: 'what was bought',
    alsoFoundBy: 'order receipt thanks purchase summary',
    describe: () => 'what was bought',
    text: ({ greeting, words }) => [greeting, words],
  },
)
