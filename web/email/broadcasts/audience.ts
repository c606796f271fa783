import { defineStore } from 'pinia'
import { ref } from 'vue'
import type { SelectionInput } from '../../../contract/audience/people.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'

/** People who were chosen on another screen, on the way to the one that writes to them. */
export const useChosenPeople = defineStore('chosen people', () => {
  const chosen = ref<{ who: SelectionInput; people: number } | null>(null)
  return { chosen }
})

/** A segment or a tag, as an audience is put together of them. */
export type AudiencePart = { kind: 'segment' | 'tag'; id: number }

const conditionOf = ({ kind, id }: AudiencePart): Condition =>
  kind === 'segment' ? { kind: 'segment', segment: id } : { kind: 'hasTag', tag: id }

/** Everybody in any of some segments and tags, less who is in one of others. */
export function audienceTree(to: readonly AudiencePart[], except: readonly AudiencePart[]): Condition | null {
  const parts: Condition[] = [
    ...(to.length > 0 ? [{ kind: 'any' as const, of: to.map(conditionOf) }] : []),
    ...except.map((each): Condition => ({ kind: 'not', of: conditionOf(each) })),
  ]
  const [only] = parts
  if (parts.length < 2) return only ?? null
  return { kind: 'all', of: parts }
}
