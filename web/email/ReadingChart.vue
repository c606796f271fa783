<script setup lang="ts">
import {
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineElement,
  PointElement,
  Tooltip,
  type ChartData,
  type ChartOptions,
} from 'chart.js'
import { computed } from 'vue'
import { Line } from 'vue-chartjs'
import type { EmailReport } from '../../contract/emails.ts'
import { seriesColours } from '../theme.ts'

/** How many of a hundred had opened and clicked, by the hours since they got it; of one email or of two. */
const props = defineProps<{ reports: readonly EmailReport[] }>()

Chart.defaults.font.family = 'Overpass Variable, sans-serif'
Chart.register(CategoryScale, LinearScale, LineElement, PointElement, Tooltip, Legend)

const share = (part: number, whole: number): number => (whole === 0 ? 0 : (part / whole) * 100)
const labels = computed(() =>
  (props.reports[0]?.byHour ?? []).map(({ hours }) => (hours < 48 ? `${hours} h` : `${hours / 24} days`)),
)
const data = computed((): ChartData<'line'> => ({
  labels: labels.value,
  datasets: props.reports.flatMap((report, n) =>
    (['opened', 'clicked'] as const).map((what, m) => ({
      label: `${what === 'opened' ? 'Opened' : 'Clicked'}${props.reports.length > 1 ? `: ${report.name}` : ''}`,
      data: report.byHour.map((each) => share(each[what], report.sent)),
      borderColor: seriesColours[m],
      backgroundColor: seriesColours[m],
      // The second email is told by its line, not by colour alone.
      borderDash: n === 0 ? [] : [6, 4],
      pointStyle: what === 'opened' ? ('circle' as const) : ('rect' as const),
    })),
  ),
}))
const options: ChartOptions<'line'> = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  scales: { y: { beginAtZero: true, ticks: { callback: (value) => `${value} %` } } },
  plugins: {
    legend: { labels: { usePointStyle: true } },
    tooltip: {
      callbacks: { label: ({ dataset, parsed }) => `${dataset.label}: ${(parsed.y ?? 0).toFixed(1)} %` },
    },
  },
}
const told = computed(() => {
  const [report] = props.reports
  const last = report?.byHour.at(-1)
  if (!report || !last) return ''
  const percent = (part: number): string => `${share(part, report.sent).toFixed(1)} %`
  return `Within a week ${percent(last.opened)} had opened and ${percent(last.clicked)} had clicked.`
})
</script>

<template>
  <div class="chart">
    <Line :data="data" :options="options" role="img" :aria-label="told" />
  </div>
</template>

<style scoped>
.chart {
  height: 240px;
  padding: 12px 16px;
}
</style>
