import { disposableEmailBlocklistSet } from 'disposable-email-domains-js'
import mailcheck from 'mailcheck'

const domainOf = (address: string): string => address.slice(address.lastIndexOf('@') + 1).toLowerCase()

/**
 * The address that was probably meant, where its domain is nearly that of a well-known mailbox; null when nothing
 * looks wrong. Distance and list are those of the library `mailcheck`. Endings by themselves are not judged: there are
 * over a thousand, and most are right.
 * @param domains of the business's own list
 */
export function meantAddress(address: string, domains: readonly string[]): string | null {
  const known = [...domains, ...mailcheck.defaultDomains]
  if (known.includes(domainOf(address))) return null
  const found = mailcheck.run({
    email: address,
    domains: known,
    secondLevelDomains: [],
    topLevelDomains: [],
  })
  return found ? decodeURI(found.full) : null
}

// The library's own question makes this set anew each time, which takes longer than all else about a form.
let throwaways: ReadonlySet<string> | undefined

/** Is it a mailbox that is thrown away after use? By the list of the library `disposable-email-domains-js`. */
export function isThrowaway(address: string): boolean {
  throwaways ??= disposableEmailBlocklistSet()
  return throwaways.has(domainOf(address))
}
