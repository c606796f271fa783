<script setup lang="ts">
import { computed } from 'vue'
import type { ScoreCheckView } from '../../../contract/audience/scores.ts'
import { isEnough } from '../../../core/results/wilson.ts'
import { countOf } from '../../wording.ts'

/** Conversion by band with its interval, and how well the score orders people; beside another scorecard's. */
const props = defineProps<{ check: ScoreCheckView; beside: ScoreCheckView | null }>()

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`
const interval = (share: { low: number; high: number }): string =>
  `${percent(share.low)} – ${percent(share.high)}`

/** Bars share one scale: up to the highest end of any interval. */
const scale = computed(() => Math.max(0.01, ...props.check.bands.map(({ share }) => share.high)))
const barOf = (share: { low: number; high: number }) => ({
  left: `${(share.low / scale.value) * 100}%`,
  width: `${((share.high - share.low) / scale.value) * 100}%`,
})

/** What an area under the curve says, in words. 0.5 is chance. */
function judge(area: number | null): string {
  if (area === null) return 'undefined: everybody or nobody did it'
  if (area < 0.55) return 'no better than chance'
  if (area < 0.65) return 'slightly better than chance'
  return area < 0.8 ? 'fairly good' : 'good'
}
</script>

<template>
  <v-table>
    <thead>
      <tr>
        <th scope="col">Band</th>
        <th scope="col" class="number">Converted</th>
        <th scope="col" class="number">Rate</th>
        <th scope="col">95 % interval</th>
        <th scope="col" class="number">Lift</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in check.bands" :key="row.band">
        <td>{{ row.name }}</td>
        <td class="figures">{{ countOf(row.share.of) }}/{{ countOf(row.share.among) }}</td>
        <td class="figures">{{ row.share.among ? percent(row.share.rate) : '' }}</td>
        <td class="range">
          <span class="bar" aria-hidden="true">
            <span :style="barOf(row.share)" />
          </span>
          <span :class="{ soft: !isEnough(row.share) }">{{ interval(row.share) }}</span>
          <span v-if="!isEnough(row.share)" class="few">not enough data</span>
        </td>
        <td class="figures">{{ row.lift === null ? '' : row.lift.toFixed(1) }}</td>
      </tr>
      <tr>
        <td>Everyone</td>
        <td class="figures">{{ countOf(check.all.of) }}/{{ countOf(check.all.among) }}</td>
        <td class="figures">{{ percent(check.all.rate) }}</td>
        <td>{{ interval(check.all) }}</td>
        <td class="figures">1.0</td>
      </tr>
    </tbody>
  </v-table>
  <p class="area">
    Area under the curve: <strong class="figures">{{ check.area?.toFixed(3) ?? '—' }}</strong>,
    {{ judge(check.area) }}.
    <template v-if="beside">
      With the suggested points: <strong class="figures">{{ beside.area?.toFixed(3) ?? '—' }}</strong>,
      {{ judge(beside.area) }}.
    </template>
  </p>
</template>

<style scoped>
th,
td {
  padding-inline: 8px;
}

th:first-child,
td:first-child {
  padding-inline-start: 0;
}

td {
  padding-block: 4px;
  vertical-align: top;
}

td.figures {
  white-space: nowrap;
}

.range {
  min-width: 120px;
}

.bar {
  display: block;
  position: relative;
  height: 6px;
  background: var(--paper);
  border: 1px solid var(--rule);
  margin: 4px 0 2px;
}

.bar span {
  position: absolute;
  top: 0;
  bottom: 0;
  background: var(--petrol);
}

.few {
  display: block;
  color: var(--ink-soft);
  font-style: italic;
}

.area {
  margin: 12px 0;
}
</style>
