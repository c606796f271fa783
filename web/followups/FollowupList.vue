<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { FollowupRow } from '../../contract/followups.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { useDeleting } from '../blocks/thingActions.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import FollowupState from './FollowupState.vue'
import NewFollowup from './NewFollowup.vue'

const session = useSession()
const { data, problem } = useLoaded((signal) => call(api.followups.list, { signal }), ['followups'])

const typed = ref('')
const rows = computed(
  () =>
    data.value?.filter(({ name }) => name.toLowerCase().includes(typed.value.trim().toLowerCase())) ?? null,
)
const now = useNowIso()

const columns: Column<FollowupRow>[] = [
  { title: 'Name', key: 'name' },
  { title: 'State', key: 'state' },
  {
    title: 'Starts after',
    key: 'startsWhen',
    value: ({ startsWhen }) => startsWhen.join(', or '),
    width: 260,
  },
  { title: 'Steps', key: 'steps', align: 'end' },
  { title: 'In it now', key: 'inside', align: 'end' },
  { title: 'Finished', key: 'finished', align: 'end' },
  { title: 'Next departure', key: 'nextDueAt', nowrap: true },
  actionsColumn,
]

const making = ref(false)
const router = useRouter()
const deleting = useDeleting<FollowupRow>(api.followups.delete)
const { attempt } = deleting
const copy = (id: number): Promise<boolean> =>
  attempt(async () => {
    const made = await call(api.followups.copy, { params: { id } })
    await router.push(`/follow-ups/${made.id}`)
  })
const actionsOf = (row: FollowupRow) => [
  { title: 'Duplicate', run: () => void copy(row.id) },
  { title: 'Delete', run: () => (deleting.leaving.value = row), destructive: true },
]
</script>

<template>
  <DataScreen title="Follow-ups" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #action>
      <v-text-field v-model="typed" label="Search by name" max-width="260" clearable />
      <v-btn color="secondary" @click="making = true">New follow-up</v-btn>
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/follow-ups/${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.state`]="{ item }">
      <FollowupState :state="item.state" /><span v-if="item.hasDraft && item.state !== 'draft'" class="soft"
        >, with changes</span
      >
    </template>
    <template #[`item.steps`]="{ item }">
      <span class="figures">{{ item.steps }}</span>
    </template>
    <template #[`item.inside`]="{ item }">
      <span class="figures">{{ countOf(item.inside) }}</span>
    </template>
    <template #[`item.finished`]="{ item }">
      <span class="figures">{{ countOf(item.finished) }}</span>
    </template>
    <template #[`item.nextDueAt`]="{ item }">
      <span class="figures">{{ item.nextDueAt ? whenOf(item.nextDueAt, session.zone, now) : '' }}</span>
    </template>
    <template #[`item.startsWhen`]="{ item }">
      {{ item.startsWhen.length ? `somebody ${item.startsWhen.join(', or ')}` : 'by hand' }}
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty
      >No follow-ups yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <NewFollowup v-model="making" />
      <DeleteThing word="follow-up" :things="deleting">
        <p>All its versions go with it. One that people have been in cannot be deleted, but archived.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>
