<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { readAmount, typedAmount } from '../../core/commerce/money.ts'

/** An amount, typed with a point or a comma, kept in the smallest unit of its currency. */
const props = defineProps<{ label: string; currency: string }>()
const amount = defineModel<number>({ required: true })
const typed = ref('')
const read = computed(() => readAmount(typed.value, props.currency))
watch(
  amount,
  (value) => {
    if (read.value !== value) typed.value = typedAmount({ amount: value, currency: props.currency })
  },
  { immediate: true },
)
function type(next: string): void {
  typed.value = next
  if (read.value !== null) amount.value = read.value
}
const fault = computed(() =>
  read.value === null
    ? `Type an amount such as ${typedAmount({ amount: 1_999, currency: props.currency })}`
    : '',
)
</script>

<template>
  <v-text-field
    :model-value="typed"
    :label="label"
    :prefix="currency"
    inputmode="decimal"
    autocomplete="off"
    :error-messages="fault"
    @update:model-value="type"
  />
</template>
