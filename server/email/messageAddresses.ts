import type { Platform } from '../platform.ts'

/** The address behind a link of this message: it tells who clicked what, and can be changed by nobody. */
export const clickUrl = (platform: Platform, message: number, link: number): string =>
  `${platform.settings.publicUrl}/go/${platform.signer.sign('click', [message, link])}`

/** The address by which who got this message leaves the list. */
export const unsubscribeUrl = (platform: Platform, contact: number, message: number): string =>
  `${platform.settings.publicUrl}/unsubscribe/${platform.signer.sign('unsubscribe', [contact, message])}`

/** The address of the picture by which an open is seen. */
export const openUrl = (platform: Platform, message: number): string =>
  `${platform.settings.publicUrl}/seen/${platform.signer.sign('open', [message])}`

/** A picture with nothing in it, where no open is to be seen. */
export const uncounted = 'data:,'
