<script setup lang="ts">
import { computed } from 'vue'
import { countOf } from '../wording.ts'

/** A small line of how a number went, with its first and last value for who cannot see it. */
const props = defineProps<{ values: number[]; label: string }>()

const width = 120
const height = 24
const points = computed(() => {
  const [low, high] = [Math.min(...props.values), Math.max(...props.values)]
  const step = width / Math.max(1, props.values.length - 1)
  return props.values
    .map(
      (value, i) =>
        `${(i * step).toFixed(1)},${(height - 2 - ((value - low) / (high - low || 1)) * (height - 4)).toFixed(1)}`,
    )
    .join(' ')
})
const told = computed(
  () => `${props.label}: from ${countOf(props.values[0] ?? 0)} to ${countOf(props.values.at(-1) ?? 0)}`,
)
</script>

<template>
  <svg v-if="values.length > 1" :width="width" :height="height" role="img" :aria-label="told">
    <polyline :points="points" fill="none" stroke="currentColor" stroke-width="1.5" />
  </svg>
  <span v-else class="soft">too new</span>
</template>

<style scoped>
svg {
  color: var(--petrol);
  display: block;
}
</style>
