import { randomUUID } from 'node:crypto'
import type { Platform } from '../platform.ts'

const [second, hour] = [1_000, 3_600_000]

/** A view's token is good for so long; then the form asks to be sent once more. */
const formTokenLasts = 24 * hour

/** The tokens that each view of a form gets: good in one place, for a day, for one sending. */
export interface FormTokens {
  /** @param scope the place that it is good in, such as `page 12` */
  make(scope: string): string
  /** How old a token is (ms); null when it was not made here, for this place, within a day. */
  ageOf(scope: string, token: string): number | null
}

/**
 * A token says of which place and which second it is, signed, and has a name of its own. The name need not be signed:
 * whoever makes one up has what one more view would have given them. So that a page that is asked for often is signed
 * once a second.
 */
export function openFormTokens({ signer, clock }: Pick<Platform, 'signer' | 'clock'>): FormTokens {
  const latest = new Map<string, { at: number; signed: string }>()
  return {
    make(scope) {
      const at = Math.floor(clock.now() / second) * second
      let known = latest.get(scope)
      if (known?.at !== at) {
        known = { at, signed: signer.sign('form', [scope, at]) }
        latest.set(scope, known)
      }
      return `${known.signed}.${randomUUID()}`
    },
    ageOf(scope, token) {
      const end = token.lastIndexOf('.')
      const [made, at] = signer.open('form', token.slice(0, end)) ?? []
      const age = clock.now() - Number(at)
      return made === scope && age < formTokenLasts ? age : null
    },
  }
}
