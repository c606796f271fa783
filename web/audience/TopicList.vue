<script setup lang="ts">
import { reactive, ref } from 'vue'
import { personId, topicList, type TopicView } from '../../contract/audience.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { change, problemOf, read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem } = useLoaded((signal) => read('/topics', topicList, signal), ['audience'])

const open = ref(false)
const edit = reactive({ id: 0, name: '', description: '', archived: false })
const refused = ref<ProblemDetails | null>(null)

function begin(topic?: TopicView): void {
  Object.assign(edit, topic ?? { id: 0, name: '', description: '', archived: false })
  refused.value = null
  open.value = true
}

async function save(): Promise<void> {
  const { id, name, description, archived } = edit
  try {
    await change(id ? `/topics/${id}` : '/topics', { name, description, archived }, personId)
    open.value = false
  } catch (error) {
    refused.value = problemOf(error)
  }
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Topics</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-btn color="secondary" @click="begin()">Make a topic</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Topic</th>
            <th>What people read on their preferences page</th>
            <th class="number">Agreed</th>
            <th>State</th>
            <th><span class="visually-hidden">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data ?? []" :key="row.id">
            <td>{{ row.name }}</td>
            <td>{{ row.description }}</td>
            <td class="number">{{ countOf(row.people) }}</td>
            <td>
              <span class="state" :class="row.archived ? 'soft' : 'clear'">{{
                row.archived ? 'archived' : 'offered'
              }}</span>
            </td>
            <td><button type="button" class="quiet" @click="begin(row)">Change</button></td>
          </tr>
        </tbody>
      </table>
      <p v-if="data?.length === 0" class="none">
        No topic yet. Topics are what people choose on their preferences page, such as “Newsletter” or
        “Session news”.
      </p>
    </div>
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
  </div>
</template>
