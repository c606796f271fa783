import { randomUUID } from 'node:crypto'
import type { Platform } from '../platform.ts'

const [second, hour] = [1_000, 3_600_000]

/** A page view's token is good for so long; then the form asks to be sent once more. */
const formTokenLasts = 24 * hour

/** The tokens that page views put into their forms: each good for one page, for a day, for one sending. */
export interface FormTokens {
  make(page: number): string
  /** Was the token made here, for this page, within a day? */
  isGood(page: number, token: string): boolean
}

/**
 * A token says of which page and which second it is, signed, and has a name of its own. The name need not be signed:
 * whoever makes one up has what one more view of the page would have given them. So that a page that is asked for
 * often is signed once a second.
 */
export function openFormTokens({ signer, clock }: Pick<Platform, 'signer' | 'clock'>): FormTokens {
  const latest = new Map<number, { at: number; signed: string }>()
  return {
    make(page) {
      const at = Math.floor(clock.now() / second) * second
      let known = latest.get(page)
      if (known?.at !== at) {
        known = { at, signed: signer.sign('form', [page, at]) }
        latest.set(page, known)
      }
      return `${known.signed}.${randomUUID()}`
    },
    isGood(page, token) {
      const end = token.lastIndexOf('.')
      const [pageId, madeAt] = signer.open('form', token.slice(0, end)) ?? []
      return pageId === String(page) && clock.now() - Number(madeAt) < formTokenLasts
    },
  }
}
