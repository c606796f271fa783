<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { recoverySettings, type RecoverySettings } from '../../core/commerce/recovery.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** When a cart counts as left, and how many are held out. */
const props = defineProps<{ settings: RecoverySettings }>()
const open = defineModel<boolean>({ required: true })
const form = useForm(recoverySettings, { ...props.settings })
async function save(): Promise<void> {
  if (await form.submit((body) => call(api.orders.saveRecovery, { body }))) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Left carts"
    submit-label="Save"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save"
  >
    <v-number-input
      v-bind="form.field('afterMinutes')"
      label="Left after, minutes without an order"
      :min="5"
      :max="10080"
    />
    <v-number-input
      v-bind="form.field('heldOut')"
      label="Held out, %"
      :min="0"
      :max="50"
      hint="These people get no email about what they left: what comes of them shows what your emails bring"
      persistent-hint
    />
  </QuickDialog>
</template>
