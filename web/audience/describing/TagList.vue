<script setup lang="ts">
import { computed, ref } from 'vue'
import { z } from 'zod'
import * as api from '../../../contract/api.ts'
import { tagEdit, type TagView } from '../../../contract/audience/describing.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import { useEditDialog } from '../../editDialog.ts'
import { choice } from '../../form.ts'
import { actionsColumn, type Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'

const { data, problem } = useLoaded((signal) => call(api.tags.list, { signal }), ['audience'])

const typed = ref('')
const rows = computed(
  () =>
    data.value?.filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())) ?? null,
)

const empty = { name: '', description: '' }
const edited = useEditDialog(tagEdit, empty, (id, body) =>
  id === null ? call(api.tags.create, { body }) : call(api.tags.edit, { params: { id }, body }),
)

const mergeForm = z.object({ into: choice('Choose the tag to keep') })
const merged = useEditDialog(mergeForm, { into: null }, (id, body) =>
  call(api.tags.merge, { params: { id: id ?? 0 }, body }),
)
const nameOf = (id: number | null): string => data.value?.find((tag) => tag.id === id)?.name ?? ''
const others = computed(() => (data.value ?? []).filter(({ id }) => id !== merged.id))

const leaving = ref<TagView | null>(null)
const { refused, busy, attempt } = useAttempts()
async function remove(): Promise<void> {
  const id = leaving.value?.id ?? 0
  if (await attempt(() => call(api.tags.delete, { params: { id } }))) leaving.value = null
}

const columns: Column<TagView>[] = [
  { title: 'Tag', key: 'name' },
  { title: 'Description', key: 'description' },
  { title: 'People', key: 'people', align: 'end' },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Tags" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #tabs><StationTabs of="People" /></template>
    <template #action>
      <v-text-field v-model="typed" label="Search by name" max-width="220" clearable />
      <v-btn color="secondary" @click="edited.begin(null, empty)">New tag</v-btn>
    </template>
    <template #[`item.name`]="{ item }">
      <v-chip>{{ item.name }}</v-chip>
    </template>
    <template #[`item.people`]="{ item }">
      <router-link
        class="figures"
        :to="`/people?tag=${item.id}`"
        :aria-label="`${peopleOf(item.people)} with the tag ${item.name}`"
        >{{ countOf(item.people) }}</router-link
      >
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn
        size="small"
        variant="text"
        color="primary"
        @click="edited.begin(item.id, { name: item.name, description: item.description })"
        >Edit</v-btn
      >
      <v-btn size="small" variant="text" color="primary" @click="merged.begin(item.id, { into: null })"
        >Merge</v-btn
      >
      <v-btn size="small" variant="text" color="error" @click="leaving = item">Delete</v-btn>
    </template>
    <template #empty>No tags yet. Create one here, type one on a person, or let a form add it.</template>
    <template #more>
      <QuickDialog
        v-model="edited.open"
        :title="edited.id ? `Edit tag “${nameOf(edited.id)}”` : 'New tag'"
        :submit-label="edited.id ? 'Save' : 'Create tag'"
        :problem="edited.form.problem"
        :busy="edited.form.busy"
        @submit="edited.save"
      >
        <v-text-field v-bind="edited.form.field('name')" label="Name" autofocus />
        <v-text-field v-bind="edited.form.field('description')" label="Description" />
        <p v-if="edited.id" class="soft">Everything that uses the tag follows the new name.</p>
      </QuickDialog>
      <QuickDialog
        v-model="merged.open"
        :title="`Merge tag “${nameOf(merged.id)}”`"
        submit-label="Merge tags"
        :problem="merged.form.problem"
        :busy="merged.form.busy"
        @submit="merged.save"
      >
        <v-autocomplete
          v-bind="merged.form.field('into')"
          label="Merge into"
          :items="others"
          item-title="name"
          item-value="id"
        />
        <p class="soft">
          People, pages, segments, follow-ups and history move to that tag. This cannot be undone.
        </p>
      </QuickDialog>
      <QuickDialog
        :model-value="leaving !== null"
        :title="`Delete tag “${leaving?.name}”?`"
        submit-label="Delete tag"
        destructive
        :problem="refused"
        :busy="busy"
        @update:model-value="leaving = null"
        @submit="remove"
      >
        <p>
          It is removed from {{ peopleOf(leaving?.people ?? 0) }}. Segments and follow-ups that use it stay
          broken until you fix them.
        </p>
      </QuickDialog>
    </template>
  </DataScreen>
</template>
