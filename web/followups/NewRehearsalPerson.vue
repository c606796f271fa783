<script setup lang="ts">
import * as api from '../../contract/api.ts'
import { personNew } from '../../contract/audience/people.ts'
import { call } from '../api.ts'
import { useForm } from '../form.ts'
import QuickDialog from '../frame/QuickDialog.vue'

/** Makes somebody up for a rehearsal. */
const props = defineProps<{
  /** What the button does besides. */
  submitLabel: string
  /** They have agreed to marketing already, as somebody who signed up elsewhere; else a form asks them. */
  agreed: boolean
}>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ made: [person: number] }>()
const form = useForm(personNew, { address: '', firstName: '', consent: '', rehearsal: true })

async function make(): Promise<void> {
  let made = 0
  const through = await form.submit(async (body) => {
    const consent = props.agreed ? 'Made up for a rehearsal' : ''
    made = (await call(api.people.create, { body: { ...body, consent } })).id
  })
  if (!through) return
  open.value = false
  emit('made', made)
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="New rehearsal person"
    :submit-label="submitLabel"
    :problem="form.problem"
    :busy="form.busy"
    @submit="make"
  >
    <v-text-field v-bind="form.field('firstName')" label="First name" autofocus />
    <v-text-field
      v-bind="form.field('address')"
      label="Email address"
      type="email"
      autocomplete="off"
      hint="Any address that is nobody’s, such as ada@rehearsal.example."
      persistent-hint
    />
  </QuickDialog>
</template>
