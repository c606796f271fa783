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
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { Bar } from 'vue-chartjs'
import type { RehearsalMaterial } from '../../contract/followups.ts'
import type { Facts } from '../../core/followups/enrolment.ts'
import type { Forecast, Range } from '../../core/followups/forecast.ts'
import type { Rehearsed } from '../../core/followups/rehearsal.ts'
import InlineNumber from '../frame/InlineNumber.vue'
import { seriesColours } from '../theme.ts'
import { countOf } from '../wording.ts'
import { startRehearser } from './rehearsing.ts'

/** What comes of a follow-up for many people, with the rates of this list or given ones. */
const props = defineProps<{
  id: number
  followups: readonly Rehearsed[]
  facts: Facts
  material: RehearsalMaterial
}>()
Chart.register(CategoryScale, LinearScale, BarElement, Tooltip)

const rates = ref({
  people: 1_000,
  days: 30,
  opens: props.material.usual?.opens ?? 40,
  clicks: props.material.usual?.clicks ?? 15,
  buys: 2,
  /** What a mail service lets out a day; none when empty. */
  limit: null as number | null,
})
const rehearser = startRehearser()
onScopeDispose(() => rehearser.end())
const found = shallowRef<Forecast | null>(null)
const done = ref<number | null>(null)
const fault = ref<string | null>(null)

async function begin(): Promise<void> {
  const { people, days, opens, clicks, buys } = rates.value
  done.value = 0
  fault.value = null
  try {
    const answer = await rehearser.forecast(
      {
        followups: props.followups,
        first: props.id,
        facts: props.facts,
        rates: { opens, clicks, buys },
        people,
        days,
        start: Date.parse(props.material.now),
        seed: props.id,
      },
      (so) => (done.value = so),
    )
    if (answer) found.value = answer
  } catch (error) {
    fault.value = error instanceof Error ? error.message : String(error)
  }
  done.value = null
}

const data = computed((): ChartData<'bar'> => {
  const limit = rates.value.limit ?? Infinity
  const days = found.value?.days ?? []
  return {
    labels: days.map(({ day }) => day),
    datasets: [
      {
        label: 'Emails',
        data: days.map(({ emails }) => emails),
        backgroundColor: days.map(({ emails }) => (emails > limit ? seriesColours[5] : seriesColours[0])),
      },
    ],
  }
})
const options: ChartOptions<'bar'> = {
  responsive: true,
  maintainAspectRatio: false,
  animation: false,
  scales: { y: { beginAtZero: true } },
}
const over = computed(() => {
  const { limit } = rates.value
  return limit === null ? [] : (found.value?.days ?? []).filter(({ emails }) => emails > limit)
})
const busiest = computed(() => [...(found.value?.days ?? [])].sort((a, b) => b.emails - a.emails)[0])
const rows = computed((): { what: string; range: Range }[] =>
  found.value
    ? [
        { what: 'Emails', range: found.value.emails },
        { what: 'Opened', range: found.value.opened },
        { what: 'Clicked', range: found.value.clicked },
        { what: 'Orders', range: found.value.orders },
        { what: 'Through with it within 60 days', range: found.value.finished },
      ]
    : [],
)
</script>

<template>
  <section class="panel forecast" aria-label="Forecast">
    <p class="line">
      <InlineNumber
        label="People"
        :min="1"
        :model-value="rates.people"
        @update:model-value="(n) => n !== null && n <= 20000 && (rates.people = n)"
      />
      people come in over
      <InlineNumber
        label="Days"
        :min="1"
        :model-value="rates.days"
        @update:model-value="(n) => n !== null && n <= 365 && (rates.days = n)"
      />
      days; they open
      <InlineNumber
        label="Open"
        :min="0"
        :model-value="rates.opens"
        @update:model-value="(n) => n !== null && n <= 100 && (rates.opens = n)"
      />
      %, click
      <InlineNumber
        label="Click"
        :min="0"
        :model-value="rates.clicks"
        @update:model-value="(n) => n !== null && n <= 100 && (rates.clicks = n)"
      />
      % of those, and
      <InlineNumber
        label="Buy"
        :min="0"
        :model-value="rates.buys"
        @update:model-value="(n) => n !== null && n <= 100 && (rates.buys = n)"
      />
      % buy. At most
      <InlineNumber
        label="Emails a day at most"
        :min="1"
        optional
        placeholder="any"
        :model-value="rates.limit"
        @update:model-value="(n) => (rates.limit = n)"
      />
      emails a day can go out.
    </p>
    <p class="soft">
      {{
        material.usual
          ? 'Opens and clicks are those of your last marketing emails.'
          : 'There are too few emails yet to know how your readers are: set what you expect.'
      }}
    </p>
    <p class="line">
      <v-btn color="primary" :disabled="done !== null" @click="begin">Forecast</v-btn>
      <template v-if="done !== null">
        <v-progress-linear
          :model-value="(done / rates.people) * 100"
          class="progress"
          aria-label="Progress"
        />
        <span class="figures">{{ countOf(done) }} of {{ countOf(rates.people) }}</span>
        <v-btn size="small" variant="text" @click="rehearser.cancel()">Cancel</v-btn>
      </template>
    </p>
    <v-alert v-if="fault" type="error">{{ fault }}</v-alert>
    <template v-if="found">
      <p v-if="busiest">
        The busiest day is {{ busiest.day }} with {{ countOf(busiest.emails) }} emails.
        <template v-if="over.length"
          >On {{ countOf(over.length) }} days there are more than can go out.</template
        >
      </p>
      <div class="chart"><Bar :data="data" :options="options" aria-label="Emails a day" role="img" /></div>
      <v-table density="compact">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Expected</th>
            <th scope="col">Nine times of ten between</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ what, range } in rows" :key="what">
            <th scope="row">{{ what }}</th>
            <td class="figures">{{ countOf(range.expected) }}</td>
            <td class="figures">{{ countOf(range.low) }} and {{ countOf(range.high) }}</td>
          </tr>
        </tbody>
      </v-table>
      <details>
        <summary>Emails by day</summary>
        <v-table density="compact">
          <tbody>
            <tr v-for="{ day, emails } in found.days" :key="day">
              <th scope="row" class="figures">{{ day }}</th>
              <td class="figures">{{ countOf(emails) }}</td>
            </tr>
          </tbody>
        </v-table>
      </details>
    </template>
  </section>
</template>

<style scoped>
.forecast {
  display: grid;
  gap: 12px;
  padding: 16px;
}

.forecast p {
  margin: 0;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}

.progress {
  width: 240px;
}

.chart {
  height: 260px;
}

th {
  font-weight: 400;
}
</style>
