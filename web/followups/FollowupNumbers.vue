<script setup lang="ts">
import {
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  Tooltip,
  type ChartData,
  type ChartOptions,
} from 'chart.js'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { rateOf } from '../rate.ts'
import { seriesColours } from '../theme.ts'
import { countOf, durationOf, peopleOf } from '../wording.ts'
import FollowupHead from './FollowupHead.vue'
import { useFollowup } from './followupView.ts'

/** How a follow-up goes: who comes in, who gets through, how long it takes, what they buy after. */
const props = defineProps<{ id: number }>()
Chart.register(CategoryScale, LinearScale, BarElement, Tooltip)
const params = { id: props.id }
const { view, steps } = useFollowup(props.id)
const { data, problem } = useLoaded(
  (signal) => call(api.followups.numbers, { params, signal }),
  ['followups', 'email'],
)
const came = computed(() => (data.value ? data.value.inside + data.value.finished : 0))
const figures = computed(() => {
  if (!data.value) return []
  const { inside, finished, completed, medianTime, orders } = data.value
  const through = rateOf(completed, finished)
  const bought = rateOf(orders, came.value)
  return [
    { what: 'Came in', said: peopleOf(came.value), more: '' },
    { what: 'Inside now', said: peopleOf(inside), more: '' },
    {
      what: 'Came to an end of their lane',
      said: `${countOf(completed)} of ${countOf(finished)} who left`,
      more: through.words,
    },
    { what: 'Half were through in', said: medianTime === null ? '—' : durationOf(medianTime), more: '' },
    { what: 'Bought something afterwards', said: peopleOf(orders), more: bought.words },
  ]
})
const chart = computed((): ChartData<'bar'> => ({
  labels: data.value?.arrivals.map(({ day }) => day.slice(5)) ?? [],
  datasets: [
    {
      label: 'Came in',
      data: data.value?.arrivals.map(({ people }) => people) ?? [],
      backgroundColor: seriesColours[0],
    },
  ],
}))
const options: ChartOptions<'bar'> = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  scales: { y: { beginAtZero: true, ticks: { precision: 0 } } },
}
const rows = computed(() =>
  steps.value.map((step) => {
    const found = data.value?.steps.find((each) => each.step === step.id)
    const sent = found?.outcomes.sent ?? 0
    const passed = Object.entries(found?.outcomes ?? {}).reduce(
      (sum, [outcome, times]) => (outcome === 'waits' || outcome === 'left' ? sum : sum + times),
      0,
    )
    return {
      id: step.id,
      title: step.title,
      // Who waited and waits no more went through a wait.
      through: passed + Math.max(0, (found?.outcomes.waits ?? 0) - (found?.waiting ?? 0)),
      skipped: found?.outcomes.skipped ?? 0,
      why: found?.skippedBecause[0]?.reason ?? '',
      opened: sent > 0 ? rateOf(found?.opened ?? 0, sent).words : '',
      clicked: sent > 0 ? rateOf(found?.clicked ?? 0, sent).words : '',
      left: found?.outcomes.left ?? 0,
      waiting: found?.waiting ?? 0,
    }
  }),
)
</script>

<template>
  <div class="screen">
    <FollowupHead :id="id" :name="view?.name" />
    <ProblemNote :problem="problem" />
    <template v-if="data">
      <dl class="figures-row panel">
        <div v-for="{ what, said, more } in figures" :key="what">
          <dt class="soft">{{ what }}</dt>
          <dd>
            <strong class="figures">{{ said }}</strong> <span class="soft">{{ more }}</span>
          </dd>
        </div>
      </dl>
      <section class="panel body" aria-labelledby="arrivals">
        <h2 id="arrivals">Arrivals, 30 days</h2>
        <div class="chart">
          <Bar :data="chart" :options="options" role="img" aria-label="People who came in, by day" />
        </div>
      </section>
      <section class="panel body" aria-labelledby="steps">
        <h2 id="steps">Step by step</h2>
        <v-table density="compact">
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">Went through</th>
              <th scope="col">Passed over</th>
              <th scope="col">Opened</th>
              <th scope="col">Clicked</th>
              <th scope="col">Left here</th>
              <th scope="col">Here now</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.id">
              <th scope="row">{{ row.title }}</th>
              <td class="figures">{{ countOf(row.through) }}</td>
              <td :title="row.why">
                <span class="figures">{{ countOf(row.skipped) }}</span>
                <span v-if="row.why" class="soft"> {{ row.why }}</span>
              </td>
              <td class="figures">{{ row.opened }}</td>
              <td class="figures">{{ row.clicked }}</td>
              <td class="figures">{{ countOf(row.left) }}</td>
              <td class="figures">{{ countOf(row.waiting) }}</td>
            </tr>
          </tbody>
        </v-table>
      </section>
    </template>
  </div>
</template>

<style scoped>
.figures-row {
  display: flex;
  flex-wrap: wrap;
  gap: 24px;
  padding: 14px 18px;
  margin: 0 0 12px;
}

dd {
  margin: 0;
}

.body {
  padding: 14px 18px;
  margin-bottom: 12px;
}

.chart {
  height: 180px;
}

th {
  font-weight: 400;
}
</style>
