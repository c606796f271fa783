<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../../contract/api.ts'
import type { SegmentView } from '../../../contract/audience/segments.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import { actionsColumn, type Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import QuickDialog from '../../frame/QuickDialog.vue'
import StationTabs from '../../frame/StationTabs.vue'
import { useLoaded } from '../../loading.ts'
import { countOf } from '../../wording.ts'

const { data, problem, reload } = useLoaded((signal) => call(api.segments.list, { signal }), ['audience'])

const leaving = ref<SegmentView | null>(null)
const { refused, busy, attempt } = useAttempts()

async function remove(): Promise<void> {
  const id = leaving.value?.id ?? 0
  if (!(await attempt(() => call(api.segments.delete, { params: { id } })))) return
  leaving.value = null
  await reload()
}

const columns: Column<SegmentView>[] = [
  { title: 'Name', key: 'name', width: 220 },
  { title: 'Everybody who', key: 'sentence', sortable: false },
  { title: 'People', key: 'people', align: 'end' },
  { title: '90 days', key: 'trend', sortable: false, width: 140 },
  actionsColumn,
]

const trendOf = ({ trend }: SegmentView): number[] => trend.map(({ people }) => people)
const trendWords = (row: SegmentView): string => {
  const values = trendOf(row)
  return `${row.name} over time: from ${countOf(values[0] ?? 0)} to ${countOf(values.at(-1) ?? 0)}`
}
</script>

<template>
  <DataScreen title="Segments" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><StationTabs of="People" /></template>
    <template #[`item.name`]="{ item }">
      <router-link :to="`/people?segment=${item.id}`">{{ item.name }}</router-link>
    </template>
    <template #[`item.sentence`]="{ item }">
      {{ item.sentence }}
      <v-alert v-if="item.missing.length" type="error" class="broken">
        Refers to {{ item.missing.join(', ') }}. Nobody can be counted until you fix it.
      </v-alert>
    </template>
    <template #[`item.people`]="{ item }">
      <span class="figures">{{
        item.people !== null ? countOf(item.people) : item.missing.length ? 'broken' : 'counting…'
      }}</span>
    </template>
    <template #[`item.trend`]="{ item }">
      <v-sparkline
        v-if="item.trend.length > 1"
        role="img"
        :aria-label="trendWords(item)"
        :model-value="trendOf(item)"
        color="primary"
        :line-width="1.5"
        :height="24"
        :width="120"
        :padding="2"
      />
      <span v-else class="soft">too new</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn size="small" variant="text" color="error" @click="leaving = item">Delete</v-btn>
    </template>
    <template #empty>
      No segments yet. Filter <router-link to="/people">everybody</router-link> and save what you find.
    </template>
    <template #more>
      <QuickDialog
        :model-value="leaving !== null"
        :title="`Delete segment “${leaving?.name}”?`"
        submit-label="Delete segment"
        destructive
        :problem="refused"
        :busy="busy"
        @update:model-value="leaving = null"
        @submit="remove"
      >
        <p>
          The people stay as they are.
          {{ leaving?.usedBy.length ? `These use it and will be broken: ${leaving.usedBy.join(', ')}.` : '' }}
        </p>
      </QuickDialog>
    </template>
  </DataScreen>
</template>

<style scoped>
.broken {
  margin-top: 6px;
}
</style>
