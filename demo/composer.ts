import { composer } from '../core/blocks/compose.ts'

let made = 0

/** Writes the story's documents; ids are numbered, so that the same story is the same every time. */
export const compose = composer(() => `part${String((made += 1)).padStart(6, '0')}`)
