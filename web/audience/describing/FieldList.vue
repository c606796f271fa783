<script setup lang="ts">
import { ref } from 'vue'
import { z } from 'zod'
import { api } from '../../../contract/api.ts'
import { fieldEdit, type FieldView } from '../../../contract/audience/describing.ts'
import type { FieldOption } from '../../../core/audience/describing/field.ts'
import { call } from '../../api.ts'
import { useEditDialog } from '../../editDialog.ts'
import { actionsColumn, type Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import StateMark from '../../frame/StateMark.vue'
import { useLoaded } from '../../loading.ts'
import { countOf } from '../../wording.ts'
import PeopleTabs from '../PeopleTabs.vue'
import { fieldKindItems, fieldKindWords, optionsFrom } from './options.ts'

const { data, problem } = useLoaded((signal) => call(api.fields.list, { signal }), ['audience'])

/** The choices are typed as text, one a line. */
const typedField = fieldEdit.extend({ options: z.string() })
const empty = { name: '', kind: 'text', options: '', archived: false } as const
const known = ref<FieldOption[]>([])
const dialog = useEditDialog(typedField, empty, (id, typed) => {
  const body = { ...typed, options: optionsFrom(typed.options, known.value) }
  return id === null ? call(api.fields.create, { body }) : call(api.fields.edit, { params: { id }, body })
})

function edit({ id, name, kind, archived, options }: FieldView): void {
  known.value = options
  dialog.begin(id, { name, kind, archived, options: options.map(({ label }) => label).join('\n') })
}

function create(): void {
  known.value = []
  dialog.begin(null, empty)
}

const columns: Column<FieldView>[] = [
  { title: 'Field', key: 'name' },
  { title: 'Type', key: 'kind', value: ({ kind }) => fieldKindWords[kind] },
  { title: 'Options', key: 'options', value: ({ options }) => options.map(({ label }) => label).join(', ') },
  { title: 'Filled in', key: 'people', align: 'end' },
  { title: 'State', key: 'archived' },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Fields" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><PeopleTabs /></template>
    <template #action><v-btn color="secondary" @click="create">New field</v-btn></template>
    <template #[`item.people`]="{ item }">
      <span class="figures">{{ countOf(item.people) }}</span>
    </template>
    <template #[`item.archived`]="{ item }">
      <StateMark :tone="item.archived ? 'soft' : 'clear'">{{
        item.archived ? 'archived' : 'in use'
      }}</StateMark>
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn size="small" variant="text" color="primary" @click="edit(item)">Edit</v-btn>
    </template>
    <template #empty>
      No fields yet. Everybody has a name, phone, country, language and time zone; add whatever else you want
      to know about people.
    </template>
    <template #more>
      <QuickDialog
        v-model="dialog.open"
        :title="dialog.id ? 'Edit field' : 'New field'"
        :submit-label="dialog.id ? 'Save' : 'Create field'"
        :problem="dialog.form.problem"
        :busy="dialog.form.busy"
        @submit="dialog.save"
      >
        <v-text-field v-bind="dialog.form.field('name')" label="Name" />
        <v-select
          v-bind="dialog.form.field('kind')"
          label="Type"
          :items="fieldKindItems"
          :disabled="dialog.id !== null"
        />
        <v-textarea
          v-if="dialog.form.values.kind === 'oneOf' || dialog.form.values.kind === 'manyOf'"
          v-bind="dialog.form.field('options')"
          label="Options, one per line"
          rows="4"
        />
        <v-checkbox
          v-if="dialog.id"
          v-bind="dialog.form.field('archived')"
          label="Archived: values are kept, but no longer asked for"
        />
      </QuickDialog>
    </template>
  </DataScreen>
</template>
