<script setup lang="ts">
import { mdiClose, mdiPlus } from '@mdi/js'

/** Lines that one adds, takes out and writes. */
defineProps<{ label: string; one: string }>()
const lines = defineModel<readonly string[]>({ required: true })

const set = (at: number, words: string): void => {
  lines.value = lines.value.map((each, i) => (i === at ? words : each))
}
const takeOut = (at: number): void => {
  lines.value = lines.value.filter((_, i) => i !== at)
}
</script>

<template>
  <fieldset>
    <legend>{{ label }}</legend>
    <div v-for="(words, i) in lines" :key="i" class="one">
      <v-text-field
        :model-value="words"
        :aria-label="`${one} ${i + 1}`"
        @update:model-value="(typed: string) => set(i, typed)"
      />
      <v-btn
        :icon="mdiClose"
        size="x-small"
        variant="text"
        :disabled="lines.length === 1"
        :aria-label="`Take out ${one} ${i + 1}`"
        @click="takeOut(i)"
      />
    </div>
    <v-btn size="small" variant="text" :prepend-icon="mdiPlus" @click="lines = [...lines, '']"
      >Add {{ one }}</v-btn
    >
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  display: grid;
  gap: 6px;
  justify-items: start;
}

legend {
  color: var(--ink-soft);
  padding: 0 0 4px;
}

.one {
  display: flex;
  align-items: center;
  gap: 4px;
  width: 100%;
}
</style>
