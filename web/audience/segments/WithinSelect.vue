<script setup lang="ts">
import { computed } from 'vue'
import type { SpanUnit, Within } from '../../../core/audience/segments/within.ts'
import { isoDayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

/** "in the last 30 days", "between … and …", or ever. */
defineProps<{ ever?: string }>()
const within = defineModel<Within | undefined>({ required: true })

const session = useSession()
const kind = computed(() => within.value?.kind ?? 'ever')
const units: SpanUnit[] = ['hours', 'days', 'weeks', 'months']

function choose(value: string): void {
  if (value === 'ever') within.value = undefined
  else if (value === 'last') within.value = { kind: 'last', amount: 30, unit: 'days' }
  else {
    const today = isoDayOf(new Date().toISOString(), session.zone)
    within.value = { kind: 'between', from: today, to: today }
  }
}

const valueOf = (event: Event): string => (event.target as HTMLInputElement).value

function setAmount(event: Event): void {
  const amount = Number(valueOf(event))
  if (within.value?.kind === 'last' && Number.isInteger(amount) && amount > 0)
    within.value = { ...within.value, amount }
}
</script>

<template>
  <select class="plain" aria-label="When" :value="kind" @change="choose(valueOf($event))">
    <option v-if="ever" value="ever">{{ ever }}</option>
    <option value="last">in the last</option>
    <option value="between">between</option>
  </select>
  <template v-if="within?.kind === 'last'">
    <input
      class="plain amount"
      type="number"
      min="1"
      aria-label="How many"
      :value="within.amount"
      @change="setAmount"
    />
    <select
      class="plain"
      aria-label="Of what"
      :value="within.unit"
      @change="within = { ...within, unit: valueOf($event) as SpanUnit }"
    >
      <option v-for="unit in units" :key="unit" :value="unit">{{ unit }}</option>
    </select>
  </template>
  <template v-if="within?.kind === 'between'">
    <input
      class="plain"
      type="date"
      aria-label="First day"
      :value="within.from"
      @change="valueOf($event) && (within = { ...within, from: valueOf($event) })"
    />
    and
    <input
      class="plain"
      type="date"
      aria-label="Last day"
      :value="within.to"
      @change="valueOf($event) && (within = { ...within, to: valueOf($event) })"
    />
  </template>
</template>

<style scoped>
.amount {
  width: 64px;
}
</style>
