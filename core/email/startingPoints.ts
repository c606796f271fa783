import { composer } from '../blocks/compose.ts'
import { emptyEmail, type EmailContent } from './email.ts'
import { afterSignUp } from './startingPoints/afterSignUp.ts'
import type { EmailPoint } from './startingPoints/emailPoint.ts'
import { offers } from './startingPoints/offers.ts'

const blank: EmailPoint = {
  id: 'blank',
  name: 'An empty email',
  words: 'A greeting, and the rest is yours.',
  subject: '',
  purpose: 'marketing',
  why: 'You get this because you agreed to hear from us.',
  blocks: (compose) => [compose.text("Hello {first name or 'there'},", '')],
}

/** Every starting point of an email, in the order in which people usually need them. */
export const emailPoints: readonly EmailPoint[] = [...afterSignUp, ...offers, blank]

/** What a new email says that begins from this point. @param newId makes the ids of its parts */
export function emailFrom(point: EmailPoint, newId: () => string): EmailContent {
  const compose = composer(newId)
  const { subject, purpose, why } = point
  return emptyEmail({
    subject,
    purpose,
    why,
    document: compose.document(compose.section([{ blocks: point.blocks(compose) }])),
  })
}
