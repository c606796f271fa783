import type { Purpose } from '../../audience/people/permission.ts'
import type { Composer } from '../../blocks/compose.ts'
import type { Block } from '../../blocks/block.ts'

/** A ready-made email to begin from, with guidance in grey where one writes. */
export interface EmailPoint {
  id: string
  name: string
  /** What it is good for, and how long it should be. */
  words: string
  subject: string
  purpose: Purpose
  why: string
  blocks: (compose: Composer) => Block[]
}

export const greeting = "Hello {first name or 'there'},"

/** A text that is still to be written. @param guidance what belongs there, and how long */
export const toWrite = ({ text }: Composer, guidance: string): Block => ({ ...text(''), guidance })

/** A button that leads nowhere yet. */
export const toChoose = ({ block }: Composer, guidance: string): Block => block('button', { guidance })

export const asked = 'You get this because you asked for it.'
export const began = 'You get this because you began an order with us.'
export const agreed = 'You get this because you agreed to hear from us.'
