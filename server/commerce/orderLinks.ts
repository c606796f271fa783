import type { Platform } from '../platform.ts'

/** The address of an order, for whoever placed it: unguessable, and good as long as the order is kept. */
export const orderToken = ({ signer }: Pick<Platform, 'signer'>, order: number): string =>
  signer.sign('order', [order])

export const orderPath = (platform: Pick<Platform, 'signer'>, order: number): string =>
  `/order/${orderToken(platform, order)}`

/** @returns null when the token was not made here */
export function readOrder({ signer }: Pick<Platform, 'signer'>, token: string): number | null {
  const [id] = signer.open('order', token) ?? []
  return id === undefined ? null : Number(id)
}
