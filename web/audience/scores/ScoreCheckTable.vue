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

/** What an area under the curve says, in words. 0.5 is a coin. */
function judge(area: number | null): string {
  if (area === null) return 'cannot be told: all or nobody did it'
  if (area < 0.55) return 'no better than a coin'
  if (area < 0.65) return 'a little better than a coin'
  return area < 0.8 ? 'tells the two apart fairly well' : 'tells the two apart well'
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>Band</th>
        <th class="number">did it</th>
        <th class="number">rate</th>
        <th>95 % interval</th>
        <th class="number">lift</th>
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
          <span v-if="!isEnough(row.share)" class="few">too few to read</span>
        </td>
        <td class="figures">{{ row.lift === null ? '' : row.lift.toFixed(1) }}</td>
      </tr>
      <tr>
        <td>Everybody</td>
        <td class="figures">{{ countOf(check.all.of) }}/{{ countOf(check.all.among) }}</td>
        <td class="figures">{{ percent(check.all.rate) }}</td>
        <td>{{ interval(check.all) }}</td>
        <td class="figures">1.0</td>
      </tr>
    </tbody>
  </table>
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
table {
  width: 100%;
  border-collapse: collapse;
}

th {
  text-align: left;
  font-weight: 600;
}

td,
th {
  padding: 4px 10px 4px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}

th.number,
td.figures {
  text-align: right;
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
