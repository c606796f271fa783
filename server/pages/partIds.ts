import { randomBytes } from 'node:crypto'

/** An id for a part of a document: 50 random bits. */
export const randomPartId = (): string =>
  BigInt(`0x${randomBytes(8).toString('hex')}`)
    .toString(36)
    .slice(0, 10)
    .padStart(10, '0')
