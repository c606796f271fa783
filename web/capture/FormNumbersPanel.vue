<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { rateOf } from '../rate.ts'
import { countOf, durationOf } from '../wording.ts'

/** How a form does: by place, and how many confirm their address. */
const props = defineProps<{ id: number }>()
const { data, problem } = useLoaded(
  (signal) => call(api.forms.numbers, { params: { id: props.id }, signal }),
  ['audience', 'pages'],
  () => props.id,
)
const places = computed(() => data.value?.places ?? [])
const confirmations = computed(() => data.value?.confirmations ?? [])
</script>

<template>
  <div class="numbers">
    <ProblemNote :problem="problem" />
    <h3>Last 30 days</h3>
    <p v-if="data && places.length === 0" class="soft">Nobody has seen this form yet.</p>
    <v-table v-else density="compact">
      <thead>
        <tr>
          <th>Place</th>
          <th class="right">Seen</th>
          <th class="right">Begun</th>
          <th class="right">Sent</th>
          <th class="right">Rate</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ place, seen, begun, sent } in places" :key="place">
          <td>{{ place }}</td>
          <td class="right figures">{{ countOf(seen) }}</td>
          <td class="right figures">{{ countOf(begun) }}</td>
          <td class="right figures">{{ countOf(sent) }}</td>
          <td class="right" :title="rateOf(sent, seen).interval">{{ rateOf(sent, seen).words }}</td>
        </tr>
      </tbody>
    </v-table>
    <template v-if="confirmations.length">
      <h3>Double opt-in</h3>
      <v-table density="compact">
        <thead>
          <tr>
            <th>Source</th>
            <th class="right">Asked</th>
            <th class="right">Confirmed</th>
            <th class="right">Rate</th>
            <th class="right">Clicks</th>
            <th class="right">Forgotten</th>
            <th class="right">Half within</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in confirmations" :key="row.source">
            <td>{{ row.source || 'no source' }}</td>
            <td class="right figures">{{ countOf(row.asked) }}</td>
            <td class="right figures">{{ countOf(row.confirmed) }}</td>
            <td class="right" :title="rateOf(row.confirmed, row.asked).interval">
              {{ rateOf(row.confirmed, row.asked).words }}
            </td>
            <td class="right figures">{{ countOf(row.clicks) }}</td>
            <td class="right figures">{{ countOf(row.forgotten) }}</td>
            <td class="right figures">{{ row.median === null ? '' : durationOf(row.median) }}</td>
          </tr>
        </tbody>
      </v-table>
    </template>
  </div>
</template>

<style scoped>
.numbers {
  display: grid;
  gap: 8px;
}

h3 {
  margin: 8px 0 0;
}

.right {
  text-align: right;
}

/* Seven columns in the width of the sheet. */
.numbers :is(th, td) {
  padding: 0 6px !important;
  white-space: nowrap;
}
</style>
