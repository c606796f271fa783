<script setup lang="ts">
import type { TimeSpan, WaitUnit } from '../../core/followups/waitShapes.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import InlineSelect from '../frame/InlineSelect.vue'

/** A length of time within a sentence: "2 days". */
defineProps<{ label: string; least?: number }>()
const span = defineModel<TimeSpan>({ required: true })
const units: { title: string; value: WaitUnit }[] = [
  { title: 'minutes', value: 'minutes' },
  { title: 'hours', value: 'hours' },
  { title: 'days', value: 'days' },
  { title: 'weeks', value: 'weeks' },
]
</script>

<template>
  <InlineNumber
    :label="label"
    :model-value="span.amount"
    :min="least ?? 1"
    @update:model-value="(amount) => amount !== null && (span = { ...span, amount })"
  />
  <InlineSelect
    label="Unit"
    :items="units"
    :model-value="span.unit"
    @update:model-value="(unit) => (span = { ...span, unit })"
  />
</template>
