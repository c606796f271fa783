<script setup lang="ts">
import { reactive, ref } from 'vue'
import { personId, topicList, type TopicView } from '../../contract/audience.ts'
import { change, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ListScreen from '../frame/ListScreen.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem } = useLoaded((signal) => read('/topics', topicList, signal), ['audience'])

const open = ref(false)
const edit = reactive({ id: 0, name: '', description: '', archived: false })
const { refused, attempt } = useAttempts()

function begin(topic?: TopicView): void {
  Object.assign(edit, topic ?? { id: 0, name: '', description: '', archived: false })
  refused.value = null
  open.value = true
}

async function save(): Promise<void> {
  const { id, name, description, archived } = edit
  const path = id ? `/topics/${id}` : '/topics'
  open.value = !(await attempt(() => change(path, { name, description, archived }, personId)))
}
</script>

<template>
  <ListScreen
    title="Topics"
    :columns="['Topic', 'What people read on their preferences page', '#Agreed', 'State', '']"
    :problem="problem"
    :empty="data?.length === 0"
  >
    <template #tabs><PeopleTabs /></template>
    <template #action><v-btn color="secondary" @click="begin()">Make a topic</v-btn></template>
    <tr v-for="row in data ?? []" :key="row.id">
      <td>{{ row.name }}</td>
      <td>{{ row.description }}</td>
      <td class="number">
        <router-link
          :to="`/people?topic=${row.id}`"
          :aria-label="`${peopleOf(row.people)} agreed to ${row.name}`"
          >{{ countOf(row.people) }}</router-link
        >
      </td>
      <td>
        <span class="state" :class="row.archived ? 'soft' : 'clear'">{{
          row.archived ? 'archived' : 'offered'
        }}</span>
      </td>
      <td class="does"><button type="button" class="quiet" @click="begin(row)">Change</button></td>
    </tr>
    <template #none>
      No topic yet. Topics are what people choose on their preferences page, such as “Newsletter” or “Session
      news”.
    </template>
    <template #more>
      <QuickDialog
        v-model="open"
        :title="edit.id ? 'Change the topic' : 'Make a topic'"
        :does="edit.id ? 'Save' : 'Make the topic'"
        :problem="refused"
        @done="save"
      >
        <label class="field">Name <input v-model="edit.name" class="plain" maxlength="80" /></label>
        <label class="field"
          >What they will get <input v-model="edit.description" class="plain" maxlength="500"
        /></label>
        <label v-if="edit.id"
          ><input v-model="edit.archived" class="plain" type="checkbox" /> Archived: no longer offered</label
        >
      </QuickDialog>
    </template>
  </ListScreen>
</template>
