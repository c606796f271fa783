<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { FollowupRow } from '../../contract/followups.ts'
import { call } from '../api.ts'
import type { Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import FollowupState from './FollowupState.vue'

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
  { title: 'Starts when', key: 'startsWhen', value: ({ startsWhen }) => startsWhen.join(', or ') },
  { title: 'Steps', key: 'steps', align: 'end' },
  { title: 'In it now', key: 'inside', align: 'end' },
  { title: 'Finished', key: 'finished', align: 'end' },
  { title: 'Next departure', key: 'nextDueAt', nowrap: true },
]
</script>

<template>
  <DataScreen title="Follow-ups" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #action>
      <v-text-field v-model="typed" label="Search by name" max-width="260" clearable />
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/follow-ups/${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.state`]="{ item }"><FollowupState :state="item.state" /></template>
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
    <template #empty>No follow-ups yet.</template>
  </DataScreen>
</template>
