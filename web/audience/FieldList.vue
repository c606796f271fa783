<script setup lang="ts">
import { reactive, ref } from 'vue'
import { fieldList, personId, type FieldView } from '../../contract/audience.ts'
import type { FieldKind, FieldOption } from '../../core/audience/field.ts'
import { change, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ListScreen from '../frame/ListScreen.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'
import { optionsFrom } from './options.ts'

const { data, problem } = useLoaded((signal) => read('/fields', fieldList, signal), ['audience'])

const kinds: Record<FieldKind, string> = {
  text: 'text',
  number: 'number',
  date: 'date',
  yesNo: 'yes or no',
  oneOf: 'one of several',
  manyOf: 'many of several',
}

const open = ref(false)
const edit = reactive({ id: 0, name: '', kind: 'text', archived: false, options: '' })
const known = ref<FieldOption[]>([])
const { refused, attempt } = useAttempts()

function begin(field?: FieldView): void {
  known.value = field?.options ?? []
  Object.assign(edit, {
    id: field?.id ?? 0,
    name: field?.name ?? '',
    kind: field?.kind ?? 'text',
    archived: field?.archived ?? false,
    options: known.value.map(({ label }) => label).join('\n'),
  })
  refused.value = null
  open.value = true
}

async function save(): Promise<void> {
  const { id, name, kind, archived, options } = edit
  const path = id ? `/fields/${id}` : '/fields'
  const wish = { name, kind, archived, options: optionsFrom(options, known.value) }
  open.value = !(await attempt(() => change(path, wish, personId)))
}
</script>

<template>
  <ListScreen
    title="Fields"
    :columns="['Field', 'Kind', 'Choices', '#Filled in', 'State', '']"
    :problem="problem"
    :empty="data?.length === 0"
  >
    <template #tabs><PeopleTabs /></template>
    <template #action><v-btn color="secondary" @click="begin()">Make a field</v-btn></template>
    <tr v-for="row in data ?? []" :key="row.id">
      <td>{{ row.name }}</td>
      <td>{{ kinds[row.kind] }}</td>
      <td>{{ row.options.map(({ label }) => label).join(', ') }}</td>
      <td class="number">{{ countOf(row.people) }}</td>
      <td>
        <span class="state" :class="row.archived ? 'soft' : 'clear'">{{
          row.archived ? 'archived' : 'in use'
        }}</span>
      </td>
      <td class="does"><button type="button" class="quiet" @click="begin(row)">Change</button></td>
    </tr>
    <template #none>
      No own field yet. Everybody has a name, phone, country, language and time zone; what else you want to
      know of people goes here.
    </template>
    <template #more>
      <QuickDialog
        v-model="open"
        :title="edit.id ? 'Change the field' : 'Make a field'"
        :does="edit.id ? 'Save' : 'Make the field'"
        :problem="refused"
        @done="save"
      >
        <label class="field">Name <input v-model="edit.name" class="plain" maxlength="80" /></label>
        <label class="field">
          Kind
          <select v-model="edit.kind" class="plain" :disabled="edit.id > 0">
            <option v-for="(title, kind) in kinds" :key="kind" :value="kind">{{ title }}</option>
          </select>
        </label>
        <label v-if="edit.kind === 'oneOf' || edit.kind === 'manyOf'" class="field">
          Choices, one a line <textarea v-model="edit.options" class="plain" rows="5" />
        </label>
        <label v-if="edit.id">
          <input v-model="edit.archived" class="plain" type="checkbox" /> Archived: values are kept, and not
          asked for
        </label>
      </QuickDialog>
    </template>
  </ListScreen>
</template>
