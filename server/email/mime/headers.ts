import { domainToASCII } from 'node:url'
import { encodeWords, foldLines } from 'nodemailer/lib/mime-funcs'

export interface Mailbox {
  name: string
  address: string
}

/** A header may hold no line break, and nothing else that is not to be seen. */
const controls = /[\p{Cc}\p{Zl}\p{Zp}]+/gu

const oneLine = (words: string): string => words.replace(controls, ' ').trim()

/** Folded at 76 (RFC 5322 §2.1.1 advises less than 78). */
const line = (name: string, value: string): string => `${foldLines(`${name}: ${value}`, 76)}\r\n`

/** A header of free words; what is not ASCII is in encoded words (RFC 2047). */
export const wordsHeader = (name: string, words: string): string =>
  line(name, encodeWords(oneLine(words), 'Q', 52))

/** A header that is written as it stands. */
export const plainHeader = (name: string, value: string): string => line(name, oneLine(value))

/**
 * An address as the envelope has it: the domain as it is in the DNS (RFC 5891), the rest as it was given.
 * @throws when it is none, so that it can neither end the header nor name another
 */
export function envelopeAddress(address: string): string {
  const at = address.lastIndexOf('@')
  const [local, domain] = [address.slice(0, at), address.slice(at + 1)]
  const ascii = domainToASCII(domain)
  if (at < 1 || ascii === '' || /[\p{Cc}\s<>,;:"()[\]\\]/u.test(local))
    throw new Error(`“${oneLine(address).slice(0, 100)}” is no email address`)
  return `${local}@${ascii}`
}

/** A name before an address: quoted, or in encoded words (RFC 5322 §3.4, RFC 2047 §5). */
function displayName(name: string): string {
  const words = oneLine(name)
  if (/^[\x20-\x7e]*$/.test(words)) return `"${words.replace(/["\\]/g, '\\$&')}"`
  return encodeWords(words, 'Q', 52, true)
}

/** A header with one mailbox. @throws when its address is none */
export function mailboxHeader(header: string, { name, address }: Mailbox): string {
  const given = envelopeAddress(address)
  return name === '' ? line(header, given) : line(header, `${displayName(name)} <${given}>`)
}

/** The moment as RFC 5322 §3.3 has it, in UTC. */
export const dateHeader = (at: number): string =>
  line('Date', new Date(at).toUTCString().replace('GMT', '+0000'))
