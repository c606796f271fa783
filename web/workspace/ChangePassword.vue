<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { passwordChange } from '../../contract/workspace.ts'
import { change } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import QuickDialog from '../frame/QuickDialog.vue'

const open = defineModel<boolean>({ required: true })
const typed = reactive({ current: '', next: '' })
const faults = ref<Record<string, string>>({})
const { refused, attempt } = useAttempts()

watch(open, () => {
  Object.assign(typed, { current: '', next: '' })
  faults.value = {}
  refused.value = null
})

async function save(): Promise<void> {
  const read = passwordChange.safeParse(typed)
  faults.value = read.success
    ? {}
    : Object.fromEntries(read.error.issues.map((issue) => [String(issue.path[0]), issue.message]))
  if (!read.success) return
  if (await attempt(() => change('/door/password', read.data))) open.value = false
  else faults.value = refused.value?.fields ?? {}
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Change password"
    does="Change password"
    :problem="refused?.fields ? null : refused"
    @done="save"
  >
    <v-text-field
      v-model="typed.current"
      label="Current password"
      type="password"
      autocomplete="current-password"
      :error-messages="faults.current"
    />
    <v-text-field
      v-model="typed.next"
      label="New password"
      type="password"
      autocomplete="new-password"
      hint="10 characters or more. Everywhere else you are signed out."
      persistent-hint
      :error-messages="faults.next"
    />
  </QuickDialog>
</template>
