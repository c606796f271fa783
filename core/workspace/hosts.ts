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
