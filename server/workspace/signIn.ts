import { createHash } from 'node:crypto'
import { parseAddress } from '../../core/audience/address.ts'
import type { SignInRequest } from '../../contract/workspace.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../problems.ts'
import { randomToken } from '../signing.ts'
import { Account } from './models.ts'
import { passwordFits } from './passwords.ts'

/** A sign-in that has not ended. */
export interface SignedIn {
  account: { id: number; name: string; address: string }
  csrfToken: string
}

export const signInLasts = 14 * 24 * 3_600_000
const freeTries = 5
const triesCountFor = 60 * 60_000
const firstPause = 30_000
const longestPause = 15 * 60_000

const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest()

/**
 * How long somebody must pause after so many failures: nothing up to five, then 30 s, doubling each time.
 * @returns milliseconds
 */
export function pauseAfter(failures: number): number {
  return failures < freeTries ? 0 : Math.min(firstPause * 2 ** (failures - freeTries), longestPause)
}

/**
 * Signs somebody in.
 * @param from the network address of the caller: an owner is not locked out by a stranger's guesses elsewhere
 * @returns the token of the cookie
 * @throws Problem 401 when address and password do not match, 429 after too many tries
 */
export async function signIn(platform: Platform, request: SignInRequest, from: string): Promise<string> {
  const { database, clock } = platform
  const key = parseAddress(request.address)?.key ?? request.address.toLowerCase()
  const who = `${key} ${from}`
  const now = clock.now()

  const failures = await database.row<{ count: number; last: Date | null }>(
    'select count(*) count, max(at) last from sign_in_failure where who = $1 and at > $2',
    [who, new Date(now - triesCountFor)],
  )
  const openAgain = (failures?.last?.getTime() ?? 0) + pauseAfter(failures?.count ?? 0)
  if (openAgain > now) {
    const seconds = Math.ceil((openAgain - now) / 1000)
    throw new Problem(
      429,
      'Too many tries',
      `Wait ${seconds} seconds, then try again with the right password.`,
    )
  }

  const account = await Account.findOne({ where: { addressKey: key } })
  if (!(await passwordFits(account?.passwordHash ?? null, request.password)) || !account) {
    await database.rows('insert into sign_in_failure (who, at) values ($1, $2)', [who, new Date(now)])
    throw new Problem(401, 'Address and password do not match', 'Check both and try again.')
  }
  const token = randomToken()
  await database.inTransaction(async (tx) => {
    await tx.rows('delete from sign_in_failure where who = $1 or at < $2', [
      who,
      new Date(now - triesCountFor),
    ])
    await tx.rows('delete from sign_in where expires_at < $1', [new Date(now)])
    await tx.rows(
      `insert into sign_in (token_hash, account_id, csrf_token, created_at, expires_at)
       values ($1, $2, $3, $4, $5)`,
      [hashOf(token), account.id, randomToken(), new Date(now), new Date(now + signInLasts)],
    )
  })
  return token
}

/** Whose cookie this is, or null when the sign-in has ended or never was. */
export async function whoHas(platform: Platform, token: string): Promise<SignedIn | null> {
  const found = await platform.database.row<{
    id: number
    name: string
    address: string
    csrf_token: string
  }>(
    `select account.id, account.name, account.address, sign_in.csrf_token
     from sign_in join account on account.id = sign_in.account_id
     where token_hash = $1 and expires_at > $2`,
    [hashOf(token), new Date(platform.clock.now())],
  )
  if (!found) return null
  const { csrf_token: csrfToken, ...account } = found
  return { account, csrfToken }
}

export async function signOut(platform: Platform, token: string): Promise<void> {
  await platform.database.rows('delete from sign_in where token_hash = $1', [hashOf(token)])
}
