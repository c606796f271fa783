<script setup lang="ts">
import { scorecardList } from '../../contract/scores.ts'
import { read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem } = useLoaded((signal) => read('/scorecards', scorecardList, signal), ['audience'])
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Scorecards</h1>
      <PeopleTabs />
      <span class="grow" />
      <v-btn color="secondary" to="/people/scorecards/new">Make a scorecard</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Name</th>
            <th class="number">Rules</th>
            <th>Bands</th>
          </tr>
        </thead>
        <tbody>
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
        </tbody>
      </table>
      <p v-if="data?.length === 0" class="none">
        No scorecard yet. It gives points for what people do, lets them fade, and tells who is warm.
      </p>
    </div>
  </div>
</template>
