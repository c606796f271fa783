<script setup lang="ts">
import { computed } from 'vue'
import type { ImportCounts } from '../../../contract/audience/imports.ts'
import { countOf } from '../../wording.ts'

const props = defineProps<{ id: number; counts: ImportCounts }>()

const rows = computed(() => [
  { words: 'new on the list', count: props.counts.added },
  { words: 'changed', count: props.counts.changed },
  { words: 'the same as before', count: props.counts.same },
  {
    words: 'unsubscribed, bounced or complained already: they stay so',
    count: props.counts.keptUnsubscribed,
  },
  { words: 'asked to be forgotten: left out', count: props.counts.suppressed },
  { words: 'lines replaced by a later line of the same address', count: props.counts.repeated },
  { words: 'lines that cannot be used', count: props.counts.invalid },
])
</script>

<template>
  <div class="two">
    <table class="counts">
      <tbody>
        <tr v-for="row in rows" :key="row.words" :class="{ soft: row.count === 0 }">
          <td class="figures">{{ countOf(row.count) }}</td>
          <th scope="row">{{ row.words }}</th>
        </tr>
      </tbody>
    </table>
    <div v-if="counts.reasons.length">
      <h3>Why lines cannot be used</h3>
      <ul>
        <li v-for="each in counts.reasons" :key="each.reason">
          <span class="figures">{{ countOf(each.lines) }}×</span> {{ each.reason }}
          <span class="soft">(line {{ countOf(each.example) }})</span>
        </li>
      </ul>
      <a :href="`/api/imports/${id}/errors.csv`">Download these lines as CSV, with the reasons</a>
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

td {
  text-align: right;
  padding: 2px 12px 2px 0;
  font-weight: 700;
}

th {
  text-align: left;
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
