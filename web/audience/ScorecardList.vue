<script setup lang="ts">
import { scorecardList } from '../../contract/scores.ts'
import { read } from '../api.ts'
import ListScreen from '../frame/ListScreen.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem } = useLoaded((signal) => read('/scorecards', scorecardList, signal), ['audience'])
</script>

<template>
  <ListScreen
    title="Scorecards"
    :columns="['Name', '#Rules', 'Bands']"
    :problem="problem"
    :empty="data?.length === 0"
  >
    <template #tabs><PeopleTabs /></template>
    <template #action>
      <v-btn color="secondary" to="/people/scorecards/new">Make a scorecard</v-btn>
    </template>
    <tr v-for="row in data ?? []" :key="row.id">
      <td>
        <router-link :to="`/people/scorecards/${row.id}`">{{ row.name }}</router-link>
      </td>
      <td class="number">{{ row.card.behaviours.length + row.card.profile.length }}</td>
      <td>
        <span v-for="band in row.card.bands" :key="band.id" class="tag">
          {{ band.name }} <span class="figures">{{ countOf(row.people[band.id] ?? 0) }}</span>
        </span>
      </td>
    </tr>
    <template #none>
      No scorecard yet. It gives points for what people do, lets them fade, and tells who is warm.
    </template>
  </ListScreen>
</template>
