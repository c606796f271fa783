/** Names under which a machine reaches itself. */
const loopback = ['localhost', '127.0.0.1', '[::1]'] as const

/** The name in a `Host` header (RFC 9110 §7.2) without its port, in lower case; null when it is none. */
export function hostnameOf(header: string | undefined): string | null {
  const name = /^(\[[0-9a-f:.]+\]|[a-z0-9._-]+)(?::\d{1,5})?$/i.exec(header ?? '')?.[1]
  return name?.toLowerCase() ?? null
}

/**
 * Whom a server takes itself for. A browser that was led here under another name (DNS rebinding) would read our
 * answers as that site's own, so requests under other names are refused.
 * @param more names beside those of the loopback interface
 */
export function ownHosts(...more: string[]): (header: string | undefined) => boolean {
  const names = new Set<string>([...loopback, ...more.map((name) => name.toLowerCase())])
  return (header) => {
    const name = hostnameOf(header)
    return name !== null && names.has(name)
  }
}

/** Networks that only machines of their own reach (RFC 1918, RFC 3927, RFC 6598, and loopback). */
const privateNetworks =
  /^(0|10|127)\.|^192\.168\.|^172\.(1[6-9]|2\d|3[01])\.|^169\.254\.|^100\.(6[4-9]|[7-9]\d|1[01]\d|12[0-7])\./
/** The same for IPv6 (RFC 4193, RFC 4291), and addresses that hold one of IPv4. */
const privateSixes = /^\[(::|f[cd]|fe[89ab])/
/** Names that mean something at home only (RFC 6761, RFC 6762, RFC 9476 and common practice). */
const privateNames = /(^|\.)(localhost|local|internal|lan|home\.arpa)$/

/** Would a visitor elsewhere never get there? @param hostname as the URL standard writes it */
export const isPrivateHost = (hostname: string): boolean =>
  privateNetworks.test(hostname) || privateSixes.test(hostname) || privateNames.test(hostname)
