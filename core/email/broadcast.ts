import { mayReceive, type MailWishes } from '../audience/people/permission.ts'

/** What decides whether somebody gets a broadcast. */
export interface Recipient extends MailWishes {
  /** They have had this very email, or it is on its way to them. */
  had: boolean
  /** The mail server takes no addresses like theirs. */
  unreachable: boolean
}

/** Why somebody with letters beyond a to z before the @ cannot be written to. */
export const noUtf8 = 'the mail server takes no address with letters beyond a to z'

/**
 * Does a broadcast go to such a person? Nobody has asked for what is sent to many, so it takes permission even when
 * the email is a delivery; and nobody gets the same email twice.
 */
export function mayGetBroadcast(to: Recipient): { allowed: boolean; reason: string } {
  const permission = mayReceive('marketing', to)
  if (permission.allowed && to.unreachable) return { allowed: false, reason: noUtf8 }
  if (permission.allowed && to.had) return { allowed: false, reason: 'the person has had this email' }
  return permission
}
