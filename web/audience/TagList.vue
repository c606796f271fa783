<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { tagList, type TagCount } from '../../contract/audience.ts'
import { change, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ListScreen from '../frame/ListScreen.vue'
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
const { refused, attempt } = useAttempts()

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
  const { what, tag } = doing.value
  const path = `/tags/${tag.id}`
  const through = await attempt(() => {
    if (what === 'edit') return change(path, { name: edit.name, description: edit.description })
    return what === 'merge' ? change(`${path}/merge`, { into: edit.into }) : change(`${path}/delete`)
  })
  if (through) doing.value = null
}
</script>

<template>
  <ListScreen
    title="Tags"
    :columns="['Tag', 'What it means', '#People', '']"
    :problem="problem"
    :empty="data !== null && !rows.length"
  >
    <template #tabs><PeopleTabs /></template>
    <template #action><v-text-field v-model="typed" label="Part of a name" max-width="220" /></template>
    <tr v-for="row in rows" :key="row.id">
      <td>
        <span class="tag">{{ row.name }}</span>
      </td>
      <td>{{ row.description }}</td>
      <td class="number">
        <router-link
          :to="`/people?tag=${row.id}`"
          :aria-label="`${peopleOf(row.people)} with the tag ${row.name}`"
          >{{ countOf(row.people) }}</router-link
        >
      </td>
      <td class="does">
        <button type="button" class="quiet" @click="begin('edit', row)">Change</button>
        <button type="button" class="quiet" @click="begin('merge', row)">Merge</button>
        <button type="button" class="quiet stop" @click="begin('delete', row)">Delete</button>
      </td>
    </tr>
    <template #none>
      {{
        data?.length ? 'No tag is called that.' : 'No tag yet. Type one on a person, or let a form put it on.'
      }}
    </template>
    <template #more>
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
          <p class="soft">
            People, pages, segments, follow-ups and history go over. It cannot be taken back.
          </p>
        </template>
        <p v-else>
          It is taken off {{ peopleOf(doing?.tag.people ?? 0) }}. Segments and follow-ups that speak of it are
          shown as broken until you mend them.
        </p>
      </QuickDialog>
    </template>
  </ListScreen>
</template>
