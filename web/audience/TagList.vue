<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { tagList, type TagCount } from '../../contract/audience.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { change, problemOf, read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem } = useLoaded((signal) => read('/tags', tagList, signal), ['audience'])

const typed = ref('')
const rows = computed(() =>
  (data.value ?? []).filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())),
)

const doing = ref<{ what: 'edit' | 'merge' | 'delete'; tag: TagCount } | null>(null)
const edit = reactive({ name: '', description: '', into: 0 })
const refused = ref<ProblemDetails | null>(null)

function begin(what: 'edit' | 'merge' | 'delete', tag: TagCount): void {
  Object.assign(edit, { name: tag.name, description: tag.description, into: 0 })
  refused.value = null
  doing.value = { what, tag }
}

const words = computed(() => {
  const name = doing.value?.tag.name ?? ''
  return {
    edit: { title: `Change the tag “${name}”`, does: 'Save' },
    merge: { title: `Merge the tag “${name}”`, does: 'Merge the two' },
    delete: { title: `Delete the tag “${name}”?`, does: 'Delete the tag' },
  }[doing.value?.what ?? 'edit']
})

async function go(): Promise<void> {
  if (!doing.value) return
  const path = `/tags/${doing.value.tag.id}`
  try {
    if (doing.value.what === 'edit') await change(path, { name: edit.name, description: edit.description })
    else if (doing.value.what === 'merge') await change(`${path}/merge`, { into: edit.into })
    else await change(`${path}/delete`)
    doing.value = null
  } catch (error) {
    refused.value = problemOf(error)
  }
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Tags</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-text-field v-model="typed" label="Part of a name" max-width="220" />
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Tag</th>
            <th>What it means</th>
            <th class="number">People</th>
            <th><span class="visually-hidden">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td>
              <span class="tag">{{ row.name }}</span>
            </td>
            <td>{{ row.description }}</td>
            <td class="number">{{ countOf(row.people) }}</td>
            <td class="does">
              <button type="button" class="quiet" @click="begin('edit', row)">Change</button>
              <button type="button" class="quiet" @click="begin('merge', row)">Merge</button>
              <button type="button" class="quiet stop" @click="begin('delete', row)">Delete</button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="data && !rows.length" class="none">
        {{
          data.length
            ? 'No tag is called that.'
            : 'No tag yet. Type one on a person, or let a form put it on.'
        }}
      </p>
    </div>
    <QuickDialog
      :model-value="doing !== null"
      :title="words.title"
      :does="words.does"
      :destructive="doing?.what === 'delete'"
      :problem="refused"
      :ready="doing?.what !== 'merge' || edit.into > 0"
      @update:model-value="doing = null"
      @done="go"
    >
      <template v-if="doing?.what === 'edit'">
        <label class="field">Name <input v-model="edit.name" class="plain" maxlength="80" /></label>
        <label class="field">
          What it means <input v-model="edit.description" class="plain" maxlength="500" />
        </label>
        <p class="soft">Everything that uses the tag follows the new name.</p>
      </template>
      <template v-else-if="doing?.what === 'merge'">
        <label class="field">
          Into
          <select v-model="edit.into" class="plain">
            <option :value="0" disabled>choose a tag</option>
            <option
              v-for="each in (data ?? []).filter(({ id }) => id !== doing?.tag.id)"
              :key="each.id"
              :value="each.id"
            >
              {{ each.name }}
            </option>
          </select>
        </label>
        <p class="soft">People, pages, segments, follow-ups and history go over. It cannot be taken back.</p>
      </template>
      <p v-else>
        It is taken off {{ peopleOf(doing?.tag.people ?? 0) }}. Segments and follow-ups that speak of it are
        shown as broken until you mend them.
      </p>
    </QuickDialog>
  </div>
</template>

<style scoped>
.does {
  white-space: nowrap;
  text-align: right;
}
</style>
