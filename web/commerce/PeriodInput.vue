<script setup lang="ts">
import type { Period } from '../../core/commerce/price.ts'

/** How often something is paid: every so many days, weeks, months or years. */
const every = defineModel<Period>({ required: true })
const units: { title: string; value: Period['unit'] }[] = [
  { title: 'days', value: 'day' },
  { title: 'weeks', value: 'week' },
  { title: 'months', value: 'month' },
  { title: 'years', value: 'year' },
]
</script>

<template>
  <div class="period">
    <v-number-input
      :model-value="every.count"
      label="Every"
      :min="1"
      :max="366"
      @update:model-value="(count: number | null) => (every = { ...every, count: count ?? 1 })"
    />
    <v-select
      :model-value="every.unit"
      aria-label="Unit"
      :items="units"
      @update:model-value="(unit: Period['unit']) => (every = { ...every, unit })"
    />
  </div>
</template>

<style scoped>
.period {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
