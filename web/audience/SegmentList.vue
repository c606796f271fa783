<script setup lang="ts">
import { ref } from 'vue'
import { segmentList, type SegmentView } from '../../contract/segments.ts'
import { change, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ListScreen from '../frame/ListScreen.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import TrendLine from '../frame/TrendLine.vue'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'
import PeopleTabs from './PeopleTabs.vue'

const { data, problem, reload } = useLoaded((signal) => read('/segments', segmentList, signal), ['audience'])

const leaving = ref<SegmentView | null>(null)
const { refused, attempt } = useAttempts()

async function remove(): Promise<void> {
  if (!(await attempt(() => change(`/segments/${leaving.value?.id}/delete`)))) return
  leaving.value = null
  await reload()
}
</script>

<template>
  <ListScreen
    title="Segments"
    :columns="['Name', 'Everybody who', '#People', '90 days', '']"
    :problem="problem"
    :empty="data?.length === 0"
  >
    <template #tabs><PeopleTabs /></template>
    <tr v-for="row in data ?? []" :key="row.id">
      <td class="name">
        <router-link :to="`/people?segment=${row.id}`">{{ row.name }}</router-link>
      </td>
      <td>
        {{ row.sentence }}
        <p v-if="row.missing.length" class="fault">
          Speaks of {{ row.missing.join(', ') }}: nobody can tell who is meant until it is mended.
        </p>
      </td>
      <td class="number">
        {{ row.people !== null ? countOf(row.people) : row.missing.length ? 'broken' : 'counting…' }}
      </td>
      <td>
        <TrendLine :values="row.trend.map(({ people }) => people)" :label="`${row.name} over time`" />
      </td>
      <td class="does"><button type="button" class="quiet stop" @click="leaving = row">Delete</button></td>
    </tr>
    <template #none>
      No segment yet. Narrow down <router-link to="/people">everybody</router-link> and save what you find.
    </template>
    <template #more>
      <QuickDialog
        :model-value="leaving !== null"
        :title="`Delete the segment “${leaving?.name}”?`"
        does="Delete the segment"
        destructive
        :problem="refused"
        @update:model-value="leaving = null"
        @done="remove"
      >
        <p>
          People stay as they are.
          {{
            leaving?.usedBy.length
              ? `These speak of it and will be broken: ${leaving.usedBy.join(', ')}.`
              : ''
          }}
        </p>
      </QuickDialog>
    </template>
  </ListScreen>
</template>
