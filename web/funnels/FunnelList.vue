<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { FunnelRow } from '../../contract/funnels.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { goals } from '../../core/funnels/funnel.ts'
import { call } from '../api.ts'
import DeleteThing from '../blocks/DeleteThing.vue'
import { passesState, stateItems, useThingActions, type StateFilter } from '../blocks/thingActions.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { rateOf } from '../rate.ts'
import { countOf } from '../wording.ts'
import { countedEvery } from './line.ts'
import CopyFunnel from './CopyFunnel.vue'
import ImportFunnel from './ImportFunnel.vue'
import NewFunnel from './NewFunnel.vue'
import TrendLine from './TrendLine.vue'

const { data, problem, reload } = useLoaded(
  (signal) => call(api.funnels.list, { signal }),
  ['funnels', 'pages'],
)
useIntervalFn(reload, countedEvery)

const typed = ref('')
const state = ref<StateFilter>('current')
const label = ref<string | null>(null)
const labels = computed(() => [...new Set(data.value?.flatMap((row) => row.labels) ?? [])].sort())
const rows = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  return (
    data.value?.filter(
      (row) =>
        passesState(state.value, row.state) &&
        (label.value === null || row.labels.includes(label.value)) &&
        row.name.toLowerCase().includes(wanted),
    ) ?? null
  )
})

const columns: Column<FunnelRow>[] = [
  { title: 'Name', key: 'name', width: 240 },
  { title: 'Goal', key: 'goal', value: ({ goal }) => goals[goal] },
  { title: 'State', key: 'state' },
  { title: 'Steps', key: 'stations', align: 'end' },
  { title: 'Visitors, 30 days', key: 'visitors', align: 'end', width: 110 },
  { title: 'Contacts', key: 'contacts', align: 'end' },
  { title: 'Money', key: 'money', align: 'end', value: ({ money }) => money?.amount ?? 0 },
  { title: 'Two weeks', key: 'trend', sortable: false },
  { title: 'Labels', key: 'labels', sortable: false },
  actionsColumn,
]
const rate = ({ contacts, visitors }: FunnelRow) => rateOf(contacts, visitors)

const copying = ref<FunnelRow | null>(null)
const things = useThingActions<FunnelRow>(api.funnels, (row) => (copying.value = row))
const { refused, leaving, actionsOf } = things
const making = ref(false)
const importing = ref(false)
</script>

<template>
  <DataScreen title="Funnels" :columns="columns" :rows="rows" :problem="problem" :search="typed">
    <template #action>
      <v-text-field v-model="typed" label="Search by name" max-width="240" clearable />
      <v-select v-model="state" label="State" :items="stateItems" max-width="190" />
      <v-select v-model="label" label="Label" :items="labels" max-width="160" clearable />
      <v-btn variant="outlined" @click="importing = true">Import</v-btn>
      <v-btn color="secondary" @click="making = true">New funnel</v-btn>
    </template>
    <template #above><ProblemNote :problem="leaving ? null : refused" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/funnels/${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.goal`]="{ item }">{{ goals[item.goal] }}</template>
    <template #[`item.money`]="{ item }">
      <span
        v-if="item.money"
        class="figures"
        :title="`${countOf(item.money.orders)} orders on its pages in 30 days`"
        >{{ moneyWords(item.money) }}</span
      >
    </template>
    <template #[`item.state`]="{ item }"><ThingStateMark :state="item.state" /></template>
    <template #[`item.stations`]="{ item }">
      <span class="figures">{{ item.stations }}</span>
    </template>
    <template #[`item.visitors`]="{ item }">
      <span class="figures">{{ countOf(item.visitors) }}</span>
    </template>
    <template #[`item.contacts`]="{ item }">
      <span class="figures">{{ countOf(item.contacts) }}</span>
      <div class="soft rate" :title="rate(item).interval">{{ rate(item).words }}</div>
    </template>
    <template #[`item.trend`]="{ item }"><TrendLine :days="item.trend" /></template>
    <template #[`item.labels`]="{ item }">
      <v-chip v-for="each in item.labels" :key="each" size="small" class="label">{{ each }}</v-chip>
    </template>
    <template #[`item.actions`]="{ item }">
      <ActionMenu label="More" size="small" :actions="actionsOf(item)" />
    </template>
    <template #empty
      >No funnels yet. <a href="#" @click.prevent="making = true">Make the first one</a>.</template
    >
    <template #more>
      <NewFunnel v-if="making" v-model="making" />
      <ImportFunnel v-if="importing" v-model="importing" />
      <CopyFunnel v-if="copying" :id="copying.id" :name="copying.name" @close="copying = null" />
      <DeleteThing word="funnel" :things="things">
        <p>Only the line goes: its pages, forms, emails and follow-ups stay.</p>
      </DeleteThing>
    </template>
  </DataScreen>
</template>

<style scoped>
.rate {
  white-space: nowrap;
}

.label {
  margin-right: 4px;
}
</style>
