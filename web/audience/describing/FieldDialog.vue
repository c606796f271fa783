<script setup lang="ts">
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import { fieldEdit, type FieldView } from '../../../contract/audience/describing.ts'
import type { FieldKind } from '../../../core/audience/describing/field.ts'
import { call } from '../../api.ts'
import { useForm } from '../../form.ts'
import QuickDialog from '../../frame/QuickDialog.vue'
import { fieldKindItems, optionsFrom } from './options.ts'

/** Creates an own field, or edits one. */
const props = defineProps<{
  /** The field that is edited; none when a new one is created. */
  field?: FieldView | undefined
  /** What a new field begins with. */
  suggestion?: { name: string; kind: FieldKind } | undefined
}>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ created: [id: number] }>()

/** The options are typed as text, one a line. */
const typedField = fieldEdit.extend({ options: z.string() })
const known = props.field?.options ?? []
const form = useForm(typedField, {
  name: props.field?.name ?? props.suggestion?.name ?? '',
  kind: props.field?.kind ?? props.suggestion?.kind ?? 'text',
  options: known.map(({ label }) => label).join('\n'),
  archived: props.field?.archived ?? false,
})

async function save(): Promise<void> {
  const saved = await form.submit(async (typed) => {
    const body = { ...typed, options: optionsFrom(typed.options, known) }
    if (props.field) await call(api.fields.edit, { params: { id: props.field.id }, body })
    else emit('created', (await call(api.fields.create, { body })).id)
  })
  if (saved) open.value = false
}
</script>

<template>
  <QuickDialog
    v-model="open"
    :title="field ? 'Edit field' : 'New field'"
    :submit-label="field ? 'Save' : 'Create field'"
    :problem="form.problem"
    :busy="form.busy"
    @submit="save"
  >
    <v-text-field v-bind="form.field('name')" label="Name" autofocus />
    <v-select
      v-bind="form.field('kind')"
      label="Type"
      :items="fieldKindItems"
      :disabled="field !== undefined"
    />
    <v-textarea
      v-if="form.values.kind === 'oneOf' || form.values.kind === 'manyOf'"
      v-bind="form.field('options')"
      label="Options, one per line"
      rows="4"
    />
    <v-checkbox
      v-if="field"
      v-bind="form.field('archived')"
      label="Archived: values are kept, but no longer asked for"
    />
  </QuickDialog>
</template>
