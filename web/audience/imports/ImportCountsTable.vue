<script setup lang="ts">
import { computed } from 'vue'
import * as api from '../../../contract/api.ts'
import type { ImportCounts } from '../../../contract/audience/imports.ts'
import { linkTo } from '../../api.ts'
import { countOf } from '../../wording.ts'

const props = defineProps<{ id: number; counts: ImportCounts }>()

const rows = computed(() => [
  { words: 'new people', count: props.counts.added },
  { words: 'updated', count: props.counts.changed },
  { words: 'unchanged', count: props.counts.same },
  {
    words: 'already unsubscribed, bounced or complained: kept that way',
    count: props.counts.keptUnsubscribed,
  },
  { words: 'asked to be forgotten: left out', count: props.counts.suppressed },
  { words: 'lines overridden by a later line with the same address', count: props.counts.repeated },
  { words: 'invalid lines', count: props.counts.invalid },
])
</script>

<template>
  <div class="two">
    <v-table density="compact">
      <tbody>
        <tr v-for="row in rows" :key="row.words" :class="{ soft: row.count === 0 }">
          <td class="figures">{{ countOf(row.count) }}</td>
          <th scope="row">{{ row.words }}</th>
        </tr>
      </tbody>
    </v-table>
    <div v-if="counts.reasons.length">
      <h3>Why lines are invalid</h3>
      <ul>
        <li v-for="each in counts.reasons" :key="each.reason">
          <span class="figures">{{ countOf(each.lines) }}×</span> {{ each.reason }}
          <span class="soft">(line {{ countOf(each.example) }})</span>
        </li>
      </ul>
      <a :href="linkTo(api.imports.errorsCsv, { params: { id } })"
        >Download these lines as CSV, with the reasons</a
      >
    </div>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 24px;
  padding: 16px;
}

.two .figures {
  font-weight: 700;
}

th {
  font-weight: 400;
}

ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}

@media (max-width: 800px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
