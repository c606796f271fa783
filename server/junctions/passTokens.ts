import { hash } from 'node:crypto'
import type { Platform } from '../platform.ts'

/** The way from a form to a junction takes a redirect; so long a slow network may take for it (ms). */
const passLasts = 10 * 60_000

/** By what somebody is known who comes from a form: not by their address, and for this once. */
export interface PassToken {
  contact: number
  /**
   * Have they shown that the address is theirs, or has the form just put them on the list? Else anybody may have typed
   * it, and a junction asks its settings.
   */
  proven: boolean
  /** What it stands for, such as one sending of a form: however often a link is made of it, it is good once. */
  once: string
}

/** A token that leads the sender of a form into one junction. */
export const passToken = (
  { signer, clock }: Pick<Platform, 'signer' | 'clock'>,
  junction: number,
  { contact, proven, once }: PassToken,
): string =>
  signer.sign('pass', [
    junction,
    contact,
    proven ? 1 : 0,
    clock.now(),
    hash('sha256', once, 'base64url').slice(0, 22),
  ])

/** Who comes by a token; null when it was not made here, for this junction, within ten minutes. */
export function readPassToken(
  { signer, clock }: Pick<Platform, 'signer' | 'clock'>,
  junction: number,
  token: string,
): PassToken | null {
  const [of, contact, proven, at, once] = signer.open('pass', token) ?? []
  if (Number(of) !== junction || !Number(contact) || once === undefined) return null
  if (clock.now() - Number(at) >= passLasts) return null
  return { contact: Number(contact), proven: proven === '1', once }
}

/**
 * Uses up a token. Who comes by it again (by going back, or since somebody saw the address) is sent where it led first,
 * whatever is known of the person since.
 * @returns the rule that it led to first, when it was used before
 */
export async function usePassToken(
  { database, clock }: Pick<Platform, 'database' | 'clock'>,
  junction: number,
  { once }: PassToken,
  rule: string,
): Promise<string | null> {
  const tokenHash = hash('sha256', `${junction} ${once}`, 'buffer')
  const used = await database.row(
    `insert into junction_entry (token_hash, rule, at) values ($1, $2, $3) on conflict do nothing returning rule`,
    [tokenHash, rule, new Date(clock.now())],
  )
  if (used) return null
  const first = await database.row<{ rule: string }>(
    'select rule from junction_entry where token_hash = $1',
    [tokenHash],
  )
  return first?.rule ?? null
}

/** Forgets tokens that are over. A part of `maintenance`. */
export async function forgetPassTokens({
  database,
  clock,
}: Pick<Platform, 'database' | 'clock'>): Promise<void> {
  await database.rows('delete from junction_entry where at < $1', [new Date(clock.now() - 2 * passLasts)])
}
