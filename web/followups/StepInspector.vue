<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { StepView } from '../../contract/followups.ts'
import type { Outcome } from '../../core/followups/enrolment.ts'
import { countOf, peopleOf } from '../wording.ts'

const props = defineProps<{ step: StepView | null }>()
const route = useRoute()

const words: Record<Outcome, string> = {
  sent: 'sent',
  skipped: 'not sent (the journal says why)',
  waits: 'started waiting',
  took: 'continued',
  tagged: 'tagged',
  did: 'done',
  jumped: 'jumped ahead from here',
  moved: 'moved by hand',
  left: 'left here',
  setAside: 'set aside after an error',
}
const outcomes = computed(() =>
  Object.entries(props.step?.outcomes ?? {}).map(([name, times]) => ({
    words: words[name as Outcome],
    times,
  })),
)
</script>

<template>
  <aside class="panel" aria-label="Selected step" aria-live="polite">
    <template v-if="step">
      <h2>{{ step.title }}</h2>
      <div class="body">
        <p>{{ step.detail }}</p>
        <p v-if="step.email !== null">
          <router-link :to="{ path: `/library/emails/${step.email}`, query: { back: route.path } }">
            Edit this email
          </router-link>
        </p>
        <p v-if="step.kind === 'waitFor'">
          <strong>{{ peopleOf(step.waiting) }}</strong> waiting here now.
        </p>
        <v-table v-if="outcomes.length" density="compact">
          <caption class="soft">
            So far
          </caption>
          <tbody>
            <tr v-for="outcome in outcomes" :key="outcome.words">
              <th scope="row">{{ outcome.words }}</th>
              <td class="figures">{{ countOf(outcome.times) }}</td>
            </tr>
          </tbody>
        </v-table>
        <p v-else class="soft">Nobody has reached this step yet.</p>
      </div>
    </template>
    <div v-else class="body">
      <h2>Nothing selected</h2>
      <p class="soft">Select an email, a wait or a branch. Arrow keys move along the tracks.</p>
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

caption {
  text-align: left;
}

th {
  font-weight: 400;
}
</style>
