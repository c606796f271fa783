import { z } from 'zod'
import { mend as followupMend } from '../followups/finding.ts'

const id = z.number().int().positive()
const block = z.string().max(40)
const written = z.enum(['page', 'email'])

/** How something that is found may be put right with one press; all of it can be undone. */
export const funnelMend = z.discriminatedUnion('does', [
  /** Takes a part that says or shows nothing out of a page or an email. */
  z.object({ does: z.literal('removeBlock'), in: written, id, block }),
  z.object({ does: z.literal('leadToNext'), page: id, block }),
  z.object({ does: z.literal('markDecorative'), in: written, id, block }),
  z.object({ does: z.literal('openNewWindow'), page: id, block }),
  z.object({ does: z.literal('unlist'), page: id }),
  z.object({ does: z.literal('takeOutStation'), station: z.string().max(40) }),
  z.object({ does: z.literal('inFollowup'), followup: id, mend: followupMend }),
])
export type FunnelMend = z.infer<typeof funnelMend>

/** What the button beside a finding says. */
export const mendWords = (mend: FunnelMend): string => {
  switch (mend.does) {
    case 'removeBlock':
      return 'Take it out'
    case 'leadToNext':
      return 'Lead to the next step'
    case 'markDecorative':
      return 'Mark as decorative'
    case 'openNewWindow':
      return 'Open a new window'
    case 'unlist':
      return 'Hide from search engines'
    case 'takeOutStation':
      return 'Take the step out'
    case 'inFollowup':
      switch (mend.mend.does) {
        case 'publishEmail':
          return 'Publish the email'
        case 'removeStep':
          return 'Remove the step'
        case 'leaveAtPurchase':
          return 'Leave at purchase'
      }
  }
}

/** Something about a whole funnel that would go wrong, or could be better; `part` is where to go to mend it. */
export interface FunnelFinding {
  level: 'error' | 'advice'
  words: string
  part: string | null
  mend?: FunnelMend
}
