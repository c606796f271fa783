/**
 * What browsers accept in `<input type=email>`; a domain with letters outside ASCII is in its ASCII form, as browsers
 * send it.
 * Source: WHATWG HTML standard, "Email state", the valid-email-address regular expression.
 */
const emailState =
  /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$/

/** Longest address that fits SMTP's path of 256 octets with its brackets (RFC 5321 §4.5.3.1.3). */
const longestAddress = 254

/** An address as typed and the key under which two spellings are the same person. */
export interface Address {
  /** As the person typed it, outer space removed. */
  shown: string
  /** Lower-cased, domain in ASCII: unique among contacts. */
  key: string
}

/** The domain in the form that DNS and SMTP use, or '' when it is none. */
function asciiDomain(domain: string): string {
  try {
    return new URL(`http://${domain}`).hostname
  } catch {
    return ''
  }
}

/**
 * Reads an email address.
 * @returns the address, or null when mail could not be sent to it.
 */
export function parseAddress(typed: string): Address | null {
  const shown = typed.trim()
  const at = shown.lastIndexOf('@')
  if (at < 1 || shown.length > longestAddress) return null
  const domain = shown.slice(at + 1)
  if (/[\s/?#:@%\\]/.test(domain)) return null
  // Letters of any script may stand before the @ (RFC 6531 §3.3), in one spelling (RFC 6532 §3.1).
  const local = shown.slice(0, at).normalize('NFC')
  const ascii = `${local}@${asciiDomain(domain)}`
  // A name without a dot is a host of one's own network: nothing a stranger could own.
  const plain = ascii.replace(/[\p{L}\p{M}\p{N}]/gu, (letter) => (letter > '\x7f' ? 'x' : letter))
  if (!emailState.test(plain) || !ascii.slice(local.length).includes('.')) return null
  return { shown, key: ascii.toLowerCase() }
}

/** Does it take a mail server that knows letters of any script before the @ (SMTPUTF8, RFC 6531)? */
export const needsUtf8 = (address: string): boolean =>
  /[^\x00-\x7f]/.test(address.slice(0, address.lastIndexOf('@')))
