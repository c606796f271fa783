const encoder = new TextEncoder()

/** The 32-bit hash FNV-1a (Fowler, Noll, Vo). */
export function fnv1a(text: string): number {
  let hash = 0x811c9dc5
  for (const byte of encoder.encode(text)) hash = Math.imul(hash ^ byte, 0x01000193)
  return hash >>> 0
}

/** Spreads a hash over all its bits (the finaliser of MurmurHash3, Appleby): FNV leaves the high ones alike. */
function spread(hash: number): number {
  let bits = hash
  bits = Math.imul(bits ^ (bits >>> 16), 0x85ebca6b)
  bits = Math.imul(bits ^ (bits >>> 13), 0xc2b2ae35)
  return (bits ^ (bits >>> 16)) >>> 0
}

/** A place from 0 to just under 100 that belongs to a text for ever. */
export const percentOf = (text: string): number => (spread(fnv1a(text)) / 2 ** 32) * 100
