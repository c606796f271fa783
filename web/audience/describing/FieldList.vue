<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../../contract/api.ts'
import type { FieldView } from '../../../contract/audience/describing.ts'
import { call } from '../../api.ts'
import { actionsColumn, type Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import StateMark from '../../frame/StateMark.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf } from '../../wording.ts'
import FieldDialog from './FieldDialog.vue'
import { fieldKindWords } from './options.ts'

const { data, problem } = useLoaded((signal) => call(api.fields.list, { signal }), ['audience'])

/** The field whose dialog is open; true for that of a new one. */
const editing = ref<FieldView | true | null>(null)

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
    <template #tabs><StationTabs of="People" /></template>
    <template #action><v-btn color="secondary" @click="editing = true">New field</v-btn></template>
    <template #[`item.people`]="{ item }">
      <span class="figures">{{ countOf(item.people) }}</span>
    </template>
    <template #[`item.archived`]="{ item }">
      <StateMark :tone="item.archived ? 'soft' : 'clear'">{{
        item.archived ? 'archived' : 'in use'
      }}</StateMark>
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn size="small" variant="text" color="primary" @click="editing = item">Edit</v-btn>
    </template>
    <template #empty>
      No fields yet. Everybody has a name, phone, country, language and time zone; add whatever else you want
      to know about people.
    </template>
    <template #more>
      <FieldDialog
        v-if="editing"
        :model-value="true"
        :field="editing === true ? undefined : editing"
        @update:model-value="editing = null"
      />
    </template>
  </DataScreen>
</template>
