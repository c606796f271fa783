<script setup lang="ts">
import { ref } from 'vue'
import { segmentList, type SegmentView } from '../../contract/segments.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { change, problemOf, read } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import TrendLine from '../frame/TrendLine.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem, reload } = useLoaded((signal) => read('/segments', segmentList, signal), ['audience'])

const leaving = ref<SegmentView | null>(null)
const refused = ref<ProblemDetails | null>(null)

async function remove(): Promise<void> {
  try {
    await change(`/segments/${leaving.value?.id}/delete`)
    leaving.value = null
    await reload()
  } catch (error) {
    refused.value = problemOf(error)
  }
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Segments</h1>
      <PeopleTabs />
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th>Name</th>
            <th>Everybody who</th>
            <th class="number">People</th>
            <th>90 days</th>
            <th><span class="visually-hidden">What can be done</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in data ?? []" :key="row.id">
            <td>
              <router-link :to="`/people?segment=${row.id}`">{{ row.name }}</router-link>
            </td>
            <td>
              {{ row.sentence }}
              <p v-if="row.missing.length" class="fault">
                Speaks of {{ row.missing.join(', ') }}: nobody can tell who is meant until it is mended.
              </p>
            </td>
            <td class="number">{{ row.people === null ? 'broken' : countOf(row.people) }}</td>
            <td>
              <TrendLine :values="row.trend.map(({ people }) => people)" :label="`${row.name} over time`" />
            </td>
            <td><button type="button" class="quiet stop" @click="leaving = row">Delete</button></td>
          </tr>
        </tbody>
      </table>
      <p v-if="data?.length === 0" class="none">
        No segment yet. Narrow down <router-link to="/people">everybody</router-link> and save what you find.
      </p>
    </div>
    <QuickDialog
      :model-value="leaving !== null"
      :title="`Delete the segment “${leaving?.name}”?`"
      does="Delete the segment"
      destructive
      :problem="refused"
      @update:model-value="leaving = null"
      @done="remove"
    >
      <p>
        People stay as they are.
        {{
          leaving?.usedBy.length ? `These speak of it and will be broken: ${leaving.usedBy.join(', ')}.` : ''
        }}
      </p>
    </QuickDialog>
  </div>
</template>
