import { createHash } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { parseAddress } from '../../core/audience/people/address.ts'
import type { PasswordChange, SignInRequest } from '../../contract/workspace.ts'
import type { Queries } from '../database/connect.ts'
import { endStreamsOf } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomToken } from '../signing.ts'
import { Account } from './models.ts'
import { hashPassword, passwordFits } from './passwords.ts'
import { forgiveTries, takeTurn } from './signInTries.ts'

/** A sign-in that has not ended. */
export interface SignedIn {
  account: { id: number; name: string; address: string }
  csrfToken: string
  /** What the cookie's token is kept as. */
  tokenHash: string
  /** The sign-in was made to last from now on again: the cookie is to be, too. */
  renewed: boolean
}

/** A sign-in ends when it has not been used for so long. */
export const signInLasts = 14 * 24 * 3_600_000

/** Its end is moved on at most so often: not with every request. */
const renewEvery = 3_600_000

/** What is kept of a token: who reads the table can sign in with nothing of it. */
export const hashOfToken = (token: string): string => createHash('sha256').update(token).digest('hex')

/** Where a try comes from. */
export interface Origin {
  /** The network address, or the network. */
  source: string
  /** What this browser was given when it last signed in, if it did. */
  device: string | undefined
}

const keyOf = (address: string): string => parseAddress(address)?.key ?? address.toLowerCase()

/** Looks at a password when its turn has come. @throws Problem 401, 429 */
async function checkPassword(
  platform: Platform,
  address: string,
  password: string,
  origin: Origin,
): Promise<Account> {
  const key = keyOf(address)
  const account = await Account.findOne({ where: { addressKey: key } })
  const [known] = platform.signer.open('device', origin.device ?? '') ?? []
  const isKnownDevice = account !== null && known === String(account.id)
  await sleep(await takeTurn(platform, { account: key, source: origin.source, isKnownDevice }))
  if (!(await passwordFits(account?.passwordHash ?? null, password)) || !account)
    throw new Problem(401, 'Email address or password is wrong', 'Check both and try again.')
  await forgiveTries(platform.database, key, origin.source)
  return account
}

/**
 * Signs somebody in. After some wrong tries the next ones wait; nobody is locked out.
 * @returns the token of the cookie, and what this browser is known by from now on
 * @throws Problem 401 when address and password do not match, 429 when too many try
 */
export async function signIn(
  platform: Platform,
  request: SignInRequest,
  origin: Origin,
): Promise<{ token: string; device: string }> {
  const { database, clock, signer } = platform
  const account = await checkPassword(platform, request.address, request.password, origin)
  const token = randomToken()
  const now = clock.now()
  await database.inTransaction(async (tx) => {
    await tx.rows('delete from sign_in where expires_at < $1', [new Date(now)])
    await tx.rows(
      `insert into sign_in (token_hash, account_id, csrf_token, created_at, expires_at)
       values (decode($1, 'hex'), $2, $3, $4, $5)`,
      [hashOfToken(token), account.id, randomToken(), new Date(now), new Date(now + signInLasts)],
    )
  })
  return { token, device: signer.sign('device', [account.id]) }
}

interface Found {
  id: number
  name: string
  address: string
  csrfToken: string
  expiresAt: Date
}

/** Whose cookie this is, or null when the sign-in has ended or never was. Using it makes it last. */
export async function signedInBy(platform: Platform, token: string): Promise<SignedIn | null> {
  const { database, clock } = platform
  const tokenHash = hashOfToken(token)
  const now = clock.now()
  const found = await database.row<Found>(
    `select account.id, account.name, account.address, csrf_token "csrfToken", expires_at "expiresAt"
     from sign_in join account on account.id = sign_in.account_id
     where token_hash = decode($1, 'hex') and expires_at > $2`,
    [tokenHash, new Date(now)],
  )
  if (!found) return null
  const { csrfToken, expiresAt, ...account } = found
  const renewed = expiresAt.getTime() < now + signInLasts - renewEvery
  if (renewed)
    await database.rows(`update sign_in set expires_at = $2 where token_hash = decode($1, 'hex')`, [
      tokenHash,
      new Date(now + signInLasts),
    ])
  return { account, csrfToken, tokenHash, renewed }
}

/** Which of these sign-ins have not ended, by the hashes of their tokens. */
export async function stillSignedIn(platform: Platform, hashes: readonly string[]): Promise<Set<string>> {
  const rows = await platform.database.rows<{ hash: string }>(
    `select encode(token_hash, 'hex') hash from sign_in
     where encode(token_hash, 'hex') = any($1) and expires_at > $2`,
    [hashes, new Date(platform.clock.now())],
  )
  return new Set(rows.map(({ hash }) => hash))
}

async function endSignIns(q: Queries, where: string, bind: readonly unknown[]): Promise<void> {
  const ended = await q.rows<{ hash: string }>(
    `delete from sign_in where ${where} returning encode(token_hash, 'hex') hash`,
    bind,
  )
  await endStreamsOf(
    q,
    ended.map(({ hash }) => hash),
  )
}

/** Ends a sign-in, and the live updates that it opened. */
export async function signOut(platform: Platform, { tokenHash }: SignedIn): Promise<void> {
  await platform.database.inTransaction((tx) => endSignIns(tx, `token_hash = decode($1, 'hex')`, [tokenHash]))
}

/**
 * Changes one's password. Every other sign-in of the account ends.
 * @throws Problem 422 when the current password is not right, 429 when too many try
 */
export async function changePassword(
  platform: Platform,
  who: SignedIn,
  { current, next }: PasswordChange,
  origin: Origin,
): Promise<void> {
  const wrong = new Problem(
    422,
    'This is not your current password',
    'Type the password that you signed in with.',
    {
      current: 'This is not your password',
    },
  )
  await checkPassword(platform, who.account.address, current, origin).catch((error: unknown) => {
    throw error instanceof Problem && error.status === 401 ? wrong : error
  })
  const passwordHash = await hashPassword(next)
  await platform.database.inTransaction(async (tx) => {
    const changed = await tx.row('update account set password_hash = $2 where id = $1 returning id', [
      who.account.id,
      passwordHash,
    ])
    if (!changed) throw notFound('This account')
    await endSignIns(tx, `account_id = $1 and token_hash <> decode($2, 'hex')`, [
      who.account.id,
      who.tokenHash,
    ])
  })
}
