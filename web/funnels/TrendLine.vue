<script setup lang="ts">
import { computed } from 'vue'

/** How many came on each of the last days, as a line of the height of a word; the numbers are read out. */
const props = defineProps<{ days: readonly number[] }>()
const [width, height] = [84, 20]
const points = computed(() => {
  const most = Math.max(1, ...props.days)
  const step = width / Math.max(1, props.days.length - 1)
  return props.days.map(
    (n, i) => `${(i * step).toFixed(1)},${(height - 1 - (n / most) * (height - 2)).toFixed(1)}`,
  )
})
const words = computed(() => `Visitors a day, oldest first: ${props.days.join(', ')}`)
</script>

<template>
  <svg v-if="days.some((n) => n > 0)" :width="width" :height="height" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <polyline :points="points.join(' ')" fill="none" stroke="#0E5A6B" stroke-width="1.5" />
  </svg>
  <span v-else class="soft">nobody</span>
</template>
