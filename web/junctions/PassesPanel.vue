<script setup lang="ts">
import {
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  BarElement,
  Tooltip,
  type ChartData,
  type ChartOptions,
} from 'chart.js'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'
import * as api from '../../contract/api.ts'
import { otherwise, type JunctionContent } from '../../core/junctions/junction.ts'
import { call } from '../api.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { seriesColours } from '../theme.ts'
import { countOf } from '../wording.ts'

/** How many passed by each rule, day by day. */
const props = defineProps<{ id: number; content: JunctionContent }>()
Chart.defaults.font.family = 'Overpass Variable, sans-serif'
Chart.register(CategoryScale, LinearScale, BarElement, Tooltip, Legend)

const { data, problem } = useLoaded(
  (signal) => call(api.junctions.passes, { params: { id: props.id }, signal }),
  ['audience'],
)

function nameOf(rule: string): string {
  if (rule === otherwise) return 'Otherwise'
  const at = props.content.rules.findIndex(({ id }) => id === rule)
  return at < 0 ? 'a former rule' : props.content.rules[at]?.name || `Rule ${at + 1}`
}
const sum = (numbers: readonly number[]): number => numbers.reduce((all, each) => all + each, 0)
/** In the order of the line; of rules that are gone last. */
const rules = computed(() => {
  const order = [...props.content.rules.map(({ id }) => id), otherwise]
  const placeOf = (rule: string): number => (order.includes(rule) ? order.indexOf(rule) : order.length)
  return [...(data.value?.rules ?? [])].sort((a, b) => placeOf(a.rule) - placeOf(b.rule))
})
const known = computed(() => sum(rules.value.map((each) => sum(each.known))))
const strangers = computed(() => sum(rules.value.map((each) => sum(each.strangers))))
const chart = computed((): ChartData<'bar'> => ({
  labels: (data.value?.days ?? []).map((day) => day.slice(5)),
  datasets: rules.value.map(({ rule, ...numbers }, n) => ({
    label: nameOf(rule),
    data: numbers.known.map((each, at) => each + (numbers.strangers[at] ?? 0)),
    backgroundColor: seriesColours[n % seriesColours.length],
    stack: 'all',
  })),
}))
const options: ChartOptions<'bar'> = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  scales: { x: { stacked: true }, y: { stacked: true, beginAtZero: true, ticks: { precision: 0 } } },
}
const told = computed(
  () =>
    `Within 30 days ${countOf(known.value)} people and ${countOf(strangers.value)} unknown visitors passed.`,
)
</script>

<template>
  <section class="panel" aria-label="Passes">
    <h2>Passes, 30 days</h2>
    <ProblemNote :problem="problem" />
    <p class="told">{{ told }}</p>
    <div v-if="rules.length" class="chart">
      <Bar :data="chart" :options="options" role="img" :aria-label="told" />
    </div>
  </section>
</template>

<style scoped>
.told {
  margin: 0;
  padding: 10px 16px;
}

.chart {
  height: 200px;
  padding: 0 16px 12px;
}
</style>
