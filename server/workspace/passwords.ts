import { hash, verify } from '@node-rs/argon2'

/** argon2id with the package's defaults (19 MiB, 2 passes): OWASP's first choice, from memory. */
export async function hashPassword(password: string): Promise<string> {
  return hash(password)
}

/**
 * Checks a password. For an account that does not exist pass null: it takes as long, so that the time of the
 * answer tells nobody which addresses have accounts.
 */
export async function passwordFits(passwordHash: string | null, password: string): Promise<boolean> {
  const fits = await verify(passwordHash ?? (await decoy), password)
  return fits && passwordHash !== null
}

const decoy = hash('no account has this')
