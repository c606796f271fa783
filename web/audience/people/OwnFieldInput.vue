<script setup lang="ts">
import { computed } from 'vue'
import type { Field } from '../../../core/audience/describing/field.ts'
import DayInput from '../../frame/DayInput.vue'

/** The value of an own field, asked for as its kind wants it; choices stand as their ids, parted by semicolons. */
const props = defineProps<{ field: Field; fault?: string | undefined }>()
const typed = defineModel<string>({ required: true })

const options = computed(() => {
  const offered = props.field.options.map(({ id, label }) => ({ value: id, title: label }))
  const isOffered = (id: string): boolean => offered.some(({ value }) => value === id)
  const gone = typed.value.split(';').filter((id) => id !== '' && !isOffered(id))
  return [...offered, ...gone.map((id) => ({ value: id, title: `${id} (no longer offered)` }))]
})
const chosen = computed({
  get: () => typed.value.split(';').filter(Boolean),
  // An option that the field no longer has goes with the next change.
  set: (ids) => {
    typed.value = props.field.options
      .map(({ id }) => id)
      .filter((id) => ids.includes(id))
      .join(';')
  },
})
/** A control that holds no text holds null. */
const given = computed({ get: () => typed.value || null, set: (value) => (typed.value = value ?? '') })
const amount = computed({
  get: () => (typed.value === '' ? null : Number(typed.value)),
  set: (value: number | null) => (typed.value = value === null ? '' : String(value)),
})
const shared = computed(() => ({
  name: `fields.${props.field.id}`,
  label: props.field.name,
  errorMessages: props.fault === undefined ? [] : [props.fault],
}))
</script>

<template>
  <v-text-field v-if="field.kind === 'text'" v-model="typed" v-bind="shared" />
  <v-number-input v-else-if="field.kind === 'number'" v-model="amount" v-bind="shared" :precision="null" />
  <DayInput v-else-if="field.kind === 'date'" v-model="given" v-bind="shared" clearable />
  <v-select
    v-else-if="field.kind === 'yesNo'"
    v-model="given"
    v-bind="shared"
    :items="['yes', 'no']"
    clearable
  />
  <v-select v-else-if="field.kind === 'oneOf'" v-model="given" v-bind="shared" :items="options" clearable />
  <v-select
    v-else-if="field.kind === 'manyOf'"
    v-model="chosen"
    v-bind="shared"
    :items="options"
    multiple
    chips
    closable-chips
  />
</template>
