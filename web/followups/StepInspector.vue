<script setup lang="ts">
import { computed } from 'vue'
import type { StepView } from '../../contract/followups.ts'
import { countOf, peopleOf } from '../wording.ts'

const props = defineProps<{ step: StepView | null }>()

const words: Record<string, string> = {
  sent: 'decided to send',
  skipped: 'not sent, with the reason in the journal',
  waits: 'began to wait',
  took: 'went through',
  tagged: 'tagged',
  left: 'left here',
}
const outcomes = computed(() => Object.entries(props.step?.outcomes ?? {}))
</script>

<template>
  <aside class="panel" aria-label="Selected step" aria-live="polite">
    <template v-if="step">
      <h2>{{ step.title }}</h2>
      <div class="body">
        <p>{{ step.detail }}</p>
        <p v-if="step.kind === 'waitFor'">
          <strong>{{ peopleOf(step.waiting) }}</strong> on this track now.
        </p>
        <table v-if="outcomes.length">
          <caption class="soft">
            Until now
          </caption>
          <tbody>
            <tr v-for="[outcome, times] in outcomes" :key="outcome">
              <th>{{ words[outcome] ?? outcome }}</th>
              <td class="figures">{{ countOf(times) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="soft">Nobody has come here yet.</p>
      </div>
    </template>
    <div v-else class="body">
      <h2>Nothing is selected</h2>
      <p class="soft">Choose an email, a wait or a branch. Arrow keys move along the tracks.</p>
    </div>
  </aside>
</template>

<style scoped>
.body {
  padding: 16px;
}

.body h2 {
  margin-bottom: 8px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

caption {
  text-align: left;
}

th {
  text-align: left;
  font-weight: 400;
}

td {
  text-align: right;
}

th,
td {
  border-top: 1px solid var(--rule);
  padding: 4px 0;
}
</style>
