<script setup lang="ts">
import { computed } from 'vue'
import { asksWords } from '../../core/capture/describeForm.ts'
import type { FormField, FormStep } from '../../core/capture/form.ts'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'
import InspectorHead from '../blocks/inspector/InspectorHead.vue'
import type { FormEditing } from './formEditing.ts'
import { fieldInputs } from './formFields.ts'

/** What can be set about the selected field or step. */
const props = defineProps<{ editing: FormEditing }>()
const { field, step, setField, setStep, shift, remove, duplicate } = props.editing
const part = computed(() => field.value ?? step.value)

/** Where a hidden value comes from decides what is asked about it. */
const hiddenInput = computed((): Field[] => {
  if (field.value?.asks !== 'hidden') return []
  return field.value.value.from === 'fixed'
    ? [{ path: 'value.value', label: 'Value', as: 'line' }]
    : [{ path: 'value.name', label: 'Name in the address', as: 'line', hint: 'size takes a5 from ?size=a5' }]
})

function set(next: object): void {
  const given = next as FormField
  if (given.asks !== 'hidden' || field.value?.asks !== 'hidden') {
    setField(given)
    return
  }
  const was = field.value.value.from
  const { from } = given.value
  if (from === was) setField(given)
  else setField({ ...given, value: from === 'fixed' ? { from, value: '' } : { from, name: 'name' } })
}

const stepTitle: Field = { path: 'title', label: 'Title of the step', as: 'line' }
const actions = computed(() => {
  const id = part.value?.id ?? ''
  return [
    ...(field.value ? [{ title: 'Duplicate', run: () => duplicate(id) }] : []),
    { title: 'Delete', run: () => remove(id), destructive: true },
  ]
})
</script>

<template>
  <div v-if="part" class="inspector">
    <InspectorHead
      :title="field ? asksWords[field.asks] : 'step'"
      :actions="actions"
      @move="(by) => part && shift(part.id, by)"
    />
    <template v-if="field">
      <FieldInput
        v-for="input in [...fieldInputs[field.asks], ...hiddenInput]"
        :key="`${field.id} ${input.path}`"
        :field="input"
        :of="field"
        @update:of="set"
      />
    </template>
    <FieldInput
      v-else-if="step"
      :field="stepTitle"
      :of="step"
      @update:of="(next: object) => setStep(next as FormStep)"
    />
  </div>
</template>

<style scoped>
.inspector {
  display: grid;
  gap: 14px;
}
</style>
