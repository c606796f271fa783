import { createHash } from 'node:crypto'
import type { Queries } from '../../database/connect.ts'

/**
 * The hash under which a suppressed address is kept: SHA-256 over the install's secret and the address, so that
 * nobody finds addresses in it by trying. `suppressedSql` works out the same in the database.
 */
export function addressHash(secret: string, addressKey: string): Buffer {
  return createHash('sha256').update(`${secret}\n${addressKey}`).digest()
}

/** The same hash in SQL, of a text expression; `secret` names the parameter that holds the secret. */
export function addressHashSql(secret: string, address: string): string {
  return `sha256(convert_to(${secret}::text || E'\\n' || ${address}, 'UTF8'))`
}

/** Keeps an address from coming back by an import. */
export async function suppress(
  q: Queries,
  hash: Buffer,
  reason: 'erased' | 'listed',
  at: Date,
): Promise<void> {
  await q.rows(
    'insert into suppression (address_hash, reason, at) values ($1, $2, $3) on conflict do nothing',
    [hash, reason, at],
  )
}

/** Who signs up by themselves has changed their mind. */
export async function unsuppress(q: Queries, hash: Buffer): Promise<void> {
  await q.rows('delete from suppression where address_hash = $1', [hash])
}
