<script setup lang="ts">
import { computed } from 'vue'

/** A day of the calendar, such as "2026-11-24"; chosen, or typed in that form. */
const day = defineModel<string | null>({ required: true })
defineProps<{ label?: string; ariaLabel?: string; errorMessages?: string | string[]; clearable?: boolean }>()

const pad = (n: number): string => String(n).padStart(2, '0')
/** The picker speaks of days as local midnights, whatever the browser's zone. */
const date = computed({
  get: () => (day.value ? new Date(`${day.value}T00:00`) : null),
  set: (chosen: Date | null) => {
    day.value = chosen
      ? `${chosen.getFullYear()}-${pad(chosen.getMonth() + 1)}-${pad(chosen.getDate())}`
      : null
  },
})
/** What opens the calendar is a box without a role, which takes none of these; the field in it says what it is. */
const plainActivator = {
  'aria-haspopup': undefined,
  'aria-expanded': undefined,
  'aria-controls': undefined,
  'aria-owns': undefined,
}
</script>

<template>
  <v-date-input
    v-model="date"
    :label="label"
    :aria-label="ariaLabel"
    :error-messages="errorMessages"
    :clearable="clearable"
    input-format="yyyy-mm-dd"
    placeholder="yyyy-mm-dd"
    :menu-props="{ activatorProps: plainActivator }"
  />
</template>
