<script setup lang="ts">
import * as api from '../../../contract/api.ts'
import { topicEdit, type TopicView } from '../../../contract/audience/describing.ts'
import { call } from '../../api.ts'
import { useEditDialog } from '../../editDialog.ts'
import { actionsColumn, type Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import EditDialog from '../../frame/EditDialog.vue'
import StateMark from '../../frame/StateMark.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf, peopleOf } from '../../wording.ts'

const { data, problem } = useLoaded((signal) => call(api.topics.list, { signal }), ['audience'])

const empty = { name: '', description: '', archived: false }
const dialog = useEditDialog(topicEdit, empty, (id, body) =>
  id === null ? call(api.topics.create, { body }) : call(api.topics.edit, { params: { id }, body }),
)
const edit = ({ id, name, description, archived }: TopicView): void =>
  dialog.begin(id, { name, description, archived })

const columns: Column<TopicView>[] = [
  { title: 'Topic', key: 'name' },
  { title: 'On the preferences page', key: 'description' },
  { title: 'Subscribers', key: 'people', align: 'end' },
  { title: 'State', key: 'archived' },
  actionsColumn,
]
</script>

<template>
  <DataScreen title="Topics" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="People" /></template>
    <template #action>
      <v-btn color="secondary" @click="dialog.begin(null, empty)">New topic</v-btn>
    </template>
    <template #[`item.people`]="{ item }">
      <router-link
        class="figures"
        :to="`/people?topic=${item.id}`"
        :aria-label="`${peopleOf(item.people)} agreed to ${item.name}`"
        >{{ countOf(item.people) }}</router-link
      >
    </template>
    <template #[`item.archived`]="{ item }">
      <StateMark :tone="item.archived ? 'soft' : 'clear'">{{
        item.archived ? 'archived' : 'offered'
      }}</StateMark>
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn size="small" variant="text" color="primary" @click="edit(item)">Edit</v-btn>
    </template>
    <template #empty>
      No topics yet. Topics are what people choose on their preferences page, such as “Newsletter” or “Session
      news”.
    </template>
    <template #more>
      <EditDialog word="topic" :dialog="dialog">
        <v-text-field v-bind="dialog.form.field('name')" label="Name" autofocus />
        <v-text-field v-bind="dialog.form.field('description')" label="What subscribers will get" />
        <v-checkbox
          v-if="dialog.id"
          v-bind="dialog.form.field('archived')"
          label="Archived: no longer offered"
        />
      </EditDialog>
    </template>
  </DataScreen>
</template>
