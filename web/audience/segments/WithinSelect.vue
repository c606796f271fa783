<script setup lang="ts">
import { computed } from 'vue'
import { spanUnit, type Within } from '../../../core/audience/segments/within.ts'
import DayInput from '../../frame/DayInput.vue'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import { isoDayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'

/** "in the last 30 days", "between … and …", or at any time. */
const props = defineProps<{ optional?: boolean }>()
const within = defineModel<Within | undefined>({ required: true })
const session = useSession()

type Kind = Within['kind'] | 'ever'
const words: Record<Kind, string> = { ever: 'at any time', last: 'in the last', between: 'between' }
const kinds = computed(() =>
  Object.entries(words)
    .map(([value, title]) => ({ value: value as Kind, title }))
    .filter(({ value }) => props.optional || value !== 'ever'),
)
const units = spanUnit.options.map((unit) => ({ value: unit, title: unit }))

/** A part that fits the kind which is shown. */
function set(part: Partial<Record<'from' | 'to' | 'unit', string>> | { amount: number }): void {
  within.value = { ...within.value, ...part } as Within
}

function begin(kind: Kind): Within | undefined {
  switch (kind) {
    case 'ever':
      return undefined
    case 'last':
      return { kind, amount: 30, unit: 'days' }
    case 'between': {
      const today = isoDayOf(new Date().toISOString(), session.zone)
      return { kind, from: today, to: today }
    }
  }
}
</script>

<template>
  <InlineSelect
    label="Period"
    :items="kinds"
    :model-value="within?.kind ?? 'ever'"
    @update:model-value="(kind) => (within = begin(kind))"
  />
  <template v-if="within?.kind === 'last'">
    <InlineNumber
      label="Amount"
      :min="1"
      :model-value="within.amount"
      @update:model-value="(amount) => amount && set({ amount })"
    />
    <InlineSelect
      label="Unit"
      :items="units"
      :model-value="within.unit"
      @update:model-value="(unit) => set({ unit })"
    />
  </template>
  <template v-else-if="within?.kind === 'between'">
    <DayInput
      class="inline day"
      aria-label="First day"
      :model-value="within.from"
      @update:model-value="(from) => from && set({ from })"
    />
    and
    <DayInput
      class="inline day"
      aria-label="Last day"
      :model-value="within.to"
      @update:model-value="(to) => to && set({ to })"
    />
  </template>
</template>

<style scoped>
.day {
  width: 150px;
}
</style>
