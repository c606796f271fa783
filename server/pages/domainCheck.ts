import { NODATA, NOTFOUND, Resolver } from 'node:dns/promises'
import { isIP } from 'node:net'
import type { DomainCheck } from '../../contract/pages.ts'
import type { Settings } from '../settings.ts'

/** A name server that says nothing is asked again once; who waits knows after four seconds. */
const patience = { timeout: 2_000, tries: 2 }

const nothing = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && (error.code === NODATA || error.code === NOTFOUND)

/** What name servers answer; nothing when there is no such record. @throws when none of them answers */
async function recordsOf(ask: Promise<string[]>): Promise<string[]> {
  try {
    return await ask
  } catch (error) {
    if (nothing(error)) return []
    throw error
  }
}

/**
 * Whether a domain leads to this install: by a CNAME to its name, or by the same addresses (RFC 1034 §3.6).
 * @param settings whose public address is where it has to lead, and whose name server is asked
 */
export async function checkDomain(
  { publicUrl, nameServer }: Pick<Settings, 'publicUrl' | 'nameServer'>,
  domain: string,
): Promise<DomainCheck> {
  const resolver = new Resolver(patience)
  if (nameServer !== null) resolver.setServers([nameServer])
  const host = new URL(publicUrl).hostname
  const addresses = (name: string): Promise<string[]> => recordsOf(resolver.resolve4(name))
  const wanted = isIP(host) === 0 ? `CNAME to ${host}` : `A to ${host}`
  try {
    const [alias] = await recordsOf(resolver.resolveCname(domain))
    if (alias?.toLowerCase().replace(/\.$/, '') === host)
      return { state: 'right', words: `${domain} leads here: ${wanted} is set.` }
    const found = await addresses(domain)
    const ours = isIP(host) === 0 ? await addresses(host) : [host]
    if (found.some((address) => ours.includes(address)))
      return { state: 'right', words: `${domain} leads here.` }
    const now = alias === undefined ? found.map((address) => `A to ${address}`)[0] : `CNAME to ${alias}`
    return now === undefined
      ? {
          state: 'missing',
          words: `${domain} has no record yet. Set ${wanted}; it can take an hour to be seen.`,
        }
      : { state: 'wrong', words: `${domain} leads elsewhere (${now}). Set ${wanted} instead.` }
  } catch {
    return { state: 'unknown', words: 'No name server answered. Try again in a minute.' }
  } finally {
    resolver.cancel()
  }
}
