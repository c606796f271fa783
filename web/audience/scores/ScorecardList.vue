<script setup lang="ts">
import * as api from '../../../contract/api.ts'
import type { ScorecardView } from '../../../contract/audience/scores.ts'
import { call } from '../../api.ts'
import type { Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf } from '../../wording.ts'

const { data, problem } = useLoaded((signal) => call(api.scorecards.list, { signal }), ['audience'])

const columns: Column<ScorecardView>[] = [
  { title: 'Name', key: 'name' },
  {
    title: 'Rules',
    key: 'rules',
    align: 'end',
    value: ({ card }) => card.behaviours.length + card.profile.length,
  },
  { title: 'Bands', key: 'bands', sortable: false },
]
</script>

<template>
  <DataScreen title="Scorecards" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="People" /></template>
    <template #action>
      <v-btn color="secondary" to="/people/scorecards/new">New scorecard</v-btn>
    </template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/people/scorecards/${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.bands`]="{ item }">
      <v-chip v-for="band in item.card.bands" :key="band.id">
        {{ band.name }}&nbsp;<span class="figures">{{ countOf(item.people[band.id] ?? 0) }}</span>
      </v-chip>
    </template>
    <template #empty>
      No scorecards yet. A scorecard gives points for what people do, lets them fade, and shows who is warm.
    </template>
  </DataScreen>
</template>
