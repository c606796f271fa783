<script setup lang="ts">
import { computed } from 'vue'
import type { StepNumbers } from '../../contract/followups.ts'
import type { Outcome } from '../../core/followups/enrolment.ts'
import { rateOf } from '../rate.ts'
import { countOf, peopleOf } from '../wording.ts'
import { outcomeWords } from './outcomes.ts'

/** How a step went so far. */
const props = defineProps<{ numbers: StepNumbers; isSend: boolean }>()

const rows = computed(() =>
  (Object.entries(props.numbers.outcomes) as [Outcome, number][]).map(([outcome, times]) => ({
    words: outcomeWords[outcome],
    times: countOf(times),
    detail: '',
  })),
)
const sent = computed(() => props.numbers.outcomes.sent ?? 0)
const readings = computed(() =>
  props.isSend && sent.value > 0
    ? (['opened', 'clicked'] as const).map((what) => ({
        words: what,
        times: countOf(props.numbers[what]),
        detail: rateOf(props.numbers[what], sent.value).words,
      }))
    : [],
)
</script>

<template>
  <v-table density="compact" class="numbers">
    <caption class="soft">
      So far;
      {{
        peopleOf(numbers.waiting)
      }}
      here now
    </caption>
    <tbody>
      <tr v-for="row in [...rows, ...readings]" :key="row.words">
        <th scope="row">{{ row.words }}</th>
        <td class="figures">{{ row.times }}</td>
        <td class="soft">{{ row.detail }}</td>
      </tr>
      <tr v-for="{ reason, times } in numbers.skippedBecause" :key="reason">
        <th scope="row" class="soft">passed over: {{ reason }}</th>
        <td class="figures">{{ countOf(times) }}</td>
        <td></td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
.numbers {
  width: 100%;
}

caption {
  text-align: left;
}

th {
  font-weight: 400;
}
</style>
