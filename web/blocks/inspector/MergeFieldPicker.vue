<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import * as api from '../../../contract/api.ts'
import type { MergeFieldChoice } from '../../../contract/sharedDetails.ts'
import { mergeFormatWords, writtenField, type MergeField } from '../../../core/blocks/mergeText.ts'
import { call } from '../../api.ts'
import PersonSearch from '../../audience/people/PersonSearch.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import { useLoaded } from '../../loading.ts'

/** Chooses what a text says of its reader, and shows what that is for a person. */
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ insert: [field: MergeField] }>()

const person = ref<number | null>(null)
const { data: choices, problem } = useLoaded(
  (signal) =>
    call(api.sharedDetails.mergeFields, {
      query: person.value === null ? {} : { person: String(person.value) },
      signal,
    }),
  ['audience', 'pages'],
  () => person.value,
)

const origins: Readonly<Record<MergeFieldChoice['from'], string>> = {
  person: 'everybody has it',
  own: 'own field',
  detail: 'shared detail',
  junction: 'each reader has a link of their own',
}
const items = computed(() =>
  (choices.value ?? []).map((choice) => ({
    value: choice.name,
    title: choice.name,
    subtitle:
      choice.says?.[0] ??
      (choice.from === 'detail' || (person.value !== null && choice.from !== 'junction')
        ? 'no value'
        : origins[choice.from]),
  })),
)

const name = ref<string | null>(null)
const chosen = computed(() => choices.value?.find((each) => each.name === name.value))
const format = ref<MergeField['format']>(null)
const fallback = ref('')
watch(name, () => (format.value = null))
const formats = computed(() => [
  // Words need no format: without one they stand as they are.
  ...(chosen.value?.from === 'person' ? [{ value: null, title: 'as it is written' }] : []),
  ...(chosen.value?.formats ?? []).map((value, i) => ({
    value: i === 0 && chosen.value?.from !== 'person' ? null : value,
    title: `as ${mergeFormatWords[value]}`,
  })),
])
const field = computed((): MergeField | null =>
  name.value === null ? null : { name: name.value, format: format.value, fallback: fallback.value.trim() },
)
const says = computed(() => {
  if (!chosen.value) return ''
  const { says: said, formats: all } = chosen.value
  if (said === null) return fallback.value.trim() || 'nothing'
  return (
    said[
      Math.max(
        0,
        all.findIndex((each) => each === format.value),
      )
    ] ?? ''
  )
})

const fault = ref<string>()
function insert(): void {
  fault.value = field.value === null ? 'Choose a merge field' : undefined
  if (field.value === null) return
  emit('insert', field.value)
  open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    title="Insert merge field"
    submit-label="Insert"
    :problem="problem"
    @submit="insert"
  >
    <v-autocomplete
      v-model="name"
      label="Merge field"
      :items="items"
      :item-props="({ subtitle }) => ({ subtitle })"
      :error-messages="fault"
      autofocus
    />
    <v-select v-if="formats.length > 1" v-model="format" label="Said" :items="formats" />
    <v-text-field
      v-if="chosen?.from !== 'detail'"
      v-model="fallback"
      label="Who has none reads"
      placeholder="reader"
      maxlength="100"
      :rules="[(typed: string) => !/[{}\x22]/.test(typed) || 'Leave out braces and quotation marks']"
    />
    <PersonSearch v-model="person" label="What it says to (optional)" />
    <p v-if="field" role="status">
      <code>{{ writtenField(field) }}</code> says <strong>{{ says }}</strong><template
        v-if="person === null && chosen?.from !== 'detail'"
      >
        to who has no value; choose a person to see theirs</template
      >.
    </p>
  </QuickDialog>
</template>
