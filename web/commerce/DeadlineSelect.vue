<script setup lang="ts">
import { computed } from 'vue'
import { useSite } from '../blocks/site.ts'

/** One of the personal deadlines of the Library, by its name; none when null. */
defineProps<{ label: string; hint?: string }>()
const chosen = defineModel<string | null>({ required: true })
const library = useSite()
/** One that was deleted stays to be seen. */
const items = computed(() => {
  const names = library.site?.deadlines.map(({ name }) => name) ?? []
  const kept = chosen.value
  return kept === null || names.includes(kept)
    ? names
    : [...names, { title: `${kept} (deleted)`, value: kept }]
})
</script>

<template>
  <v-select
    v-model="chosen"
    :label="label"
    :items="items"
    clearable
    :hint="hint"
    :persistent-hint="hint !== undefined"
    no-data-text="None yet: Library → Deadlines"
  />
</template>
