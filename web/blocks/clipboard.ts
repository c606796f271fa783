import { z } from 'zod'
import { block } from '../../core/blocks/block.ts'
import { section } from '../../core/blocks/document.ts'
import type { Part } from '../../core/blocks/operations.ts'

const key = 'nurtel-copied-part'
const part = z.union([section, block])

/** Keeps a part to be put in elsewhere, also into another document in another tab. */
export const copyToClipboard = (copied: Part): void => localStorage.setItem(key, JSON.stringify(copied))

/** The part that was copied last, if it still is one. */
export function copiedPart(): Part | null {
  try {
    return part.parse(JSON.parse(localStorage.getItem(key) ?? 'null'))
  } catch {
    return null
  }
}
