import { defineStore } from 'pinia'
import { onScopeDispose, shallowRef, watch, type Ref } from 'vue'
import type { PersonView } from '../../contract/audience/people.ts'

/** The rehearsal person who is on the stage, with the time on their own clock. */
export const useRehearsal = defineStore('rehearsal', () => {
  const stage = shallowRef<{ id: number; name: string; now: string } | null>(null)
  return { stage }
})

/** Has the clock strip show the time of somebody in rehearsal for as long as a screen is about them. */
export function useOnStage(person: Ref<PersonView | null>): void {
  const rehearsal = useRehearsal()
  watch(person, (seen) => {
    rehearsal.stage = seen?.rehearsal
      ? { id: seen.id, name: seen.firstName || seen.address, now: seen.now }
      : null
  })
  onScopeDispose(() => (rehearsal.stage = null))
}
