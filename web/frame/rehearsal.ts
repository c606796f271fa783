import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** The rehearsal person who is on the stage, with the time on their own clock. */
export const useRehearsal = defineStore('rehearsal', () => {
  const stage = shallowRef<{ id: number; name: string; now: string } | null>(null)
  return { stage }
})
