<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { passwordChange } from '../../contract/workspace.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

const open = defineModel<boolean>({ required: true })
const form = useForm(passwordChange, { current: '', next: '' })

async function save(): Promise<void> {
  if (await form.submit((body) => call(api.auth.changePassword, { body }))) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Change password"
    submit-label="Change password"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save"
  >
    <v-text-field
      v-bind="form.field('current')"
      label="Current password"
      type="password"
      autocomplete="current-password"
    />
    <v-text-field
      v-bind="form.field('next')"
      label="New password"
      type="password"
      autocomplete="new-password"
      hint="At least 10 characters. You will be signed out everywhere else."
      persistent-hint
    />
  </QuickDialog>
</template>
