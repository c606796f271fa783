import { createHmac, createSecretKey, randomBytes, timingSafeEqual } from 'node:crypto'

/** 128 bits: enough that no token is found by trying. */
const macBytes = 16

/** Makes and checks tokens that only this install can make. */
export interface Signer {
  /** A token that carries values; good for its use alone. */
  sign(use: string, values: readonly (string | number)[]): string
  /** The values of a token, or null when it was not made here for this use. */
  open(use: string, token: string): string[] | null
  /** A stable name that tells nothing of the id it stands for. */
  alias(use: string, id: number): string
}

/** Signing with HMAC-SHA-256, cut to 128 bits (RFC 2104 §5 allows half the output). */
export function createSigner(secret: string): Signer {
  const key = createSecretKey(secret, 'utf8')
  const mac = (use: string, body: string): string =>
    createHmac('sha256', key).update(`${use}\n${body}`).digest().subarray(0, macBytes).toString('base64url')

  return {
    sign(use, values) {
      const body = Buffer.from(values.join('\n')).toString('base64url')
      return `${body}.${mac(use, body)}`
    },
    open(use, token) {
      const [body, given, ...more] = token.split('.')
      if (!body || !given || more.length > 0) return null
      // As text, not as bytes: base64url has more than one spelling of the same bytes (padding, unused last bits).
      if (!isSame(given, mac(use, body))) return null
      return Buffer.from(body, 'base64url').toString('utf8').split('\n')
    },
    alias: (use, id) => mac(`alias ${use}`, String(id)),
  }
}

/** Compares two secrets in a time that tells nothing of where they differ. */
export function isSame(a: string, b: string): boolean {
  const [left, right] = [Buffer.from(a), Buffer.from(b)]
  return left.length === right.length && timingSafeEqual(left, right)
}

/** An unguessable token of 128 random bits. */
export function randomToken(): string {
  return randomBytes(macBytes).toString('base64url')
}
