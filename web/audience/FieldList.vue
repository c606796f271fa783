<script setup lang="ts">
import { reactive, ref } from 'vue'
import { fieldList, personId, type FieldView } from '../../contract/audience.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import type { FieldKind, FieldOption } from '../../core/audience/field.ts'
import { change, problemOf, read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

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
const refused = ref<ProblemDetails | null>(null)

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

/** A line each. A line in the place of an old one is that option renamed, and keeps its id. */
function optionsOf(text: string): FieldOption[] {
  const taken = new Set(known.value.map(({ id }) => id))
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((label, i) => {
      const old = known.value.find((each) => each.label === label) ?? known.value[i]
      if (old) return { id: old.id, label }
      const plain =
        label
          .toLowerCase()
          .replace(/[^a-z0-9]+/g, '-')
          .replace(/^-|-$/g, '')
          .slice(0, 30) || 'option'
      let id = plain
      for (let n = 2; taken.has(id); n += 1) id = `${plain}-${n}`
      taken.add(id)
      return { id, label }
    })
}

async function save(): Promise<void> {
  const { id, name, kind, archived, options } = edit
  try {
    await change(
      id ? `/fields/${id}` : '/fields',
      { name, kind, archived, options: optionsOf(options) },
      personId,
    )
    open.value = false
  } catch (error) {
    refused.value = problemOf(error)
  }
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Fields</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-btn color="secondary" @click="begin()">Make a field</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Field</th>
            <th>Kind</th>
            <th>Choices</th>
            <th class="number">Filled in</th>
            <th>State</th>
            <th><span class="visually-hidden">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
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
            <td><button type="button" class="quiet" @click="begin(row)">Change</button></td>
          </tr>
        </tbody>
      </table>
      <p v-if="data?.length === 0" class="none">
        No own field yet. Everybody has a name, phone, country, language and time zone; what else you want to
        know of people goes here.
      </p>
    </div>
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
  </div>
</template>
