<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { refundOrder, type OrderView } from '../../contract/orders.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'
import AmountInput from './AmountInput.vue'

/** Gives money back: all that is left of an order, or a part of it. */
const props = defineProps<{ order: OrderView }>()
const open = defineModel<boolean>({ required: true })
const form = useForm(refundOrder, {
  amount: props.order.refundable,
  reason: '',
  takesBack: props.order.refunded === 0,
})
const left = computed(() => moneyWords({ amount: props.order.refundable, currency: props.order.currency }))
async function save(): Promise<void> {
  const params = { id: props.order.id }
  if (await form.submit((body) => call(api.orders.refund, { params, body }))) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Refund"
    submit-label="Give it back"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save"
  >
    <p class="soft">{{ left }} can be given back. It goes to the card that paid.</p>
    <AmountInput v-model="form.values.amount as number" label="Amount" :currency="order.currency" />
    <p v-if="form.faults.amount" class="fault" role="alert">{{ form.faults.amount }}</p>
    <v-text-field v-bind="form.field('reason')" label="Why (for yourselves)" />
    <v-checkbox
      v-model="form.values.takesBack as boolean"
      label="Take back what it brought: its tags, and the way into its courses"
      hide-details
    />
  </QuickDialog>
</template>

<style scoped>
.fault {
  color: rgb(var(--v-theme-error));
}
</style>
