<script setup lang="ts">
import { computed, ref } from 'vue'
import { broadcastList, type BroadcastState, type BroadcastView } from '../../contract/broadcasts.ts'
import { change, read } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ListScreen from '../frame/ListScreen.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, peopleOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import LeftOutList from './LeftOutList.vue'
import OutboxTabs from './OutboxTabs.vue'

const session = useSession()
const { data, problem } = useLoaded((signal) => read('/broadcasts', broadcastList, signal), ['email', 'work'])
const now = useNowIso()

const marks: Record<BroadcastState, { className: string; words: string }> = {
  preparing: { className: 'lamp', words: 'preparing' },
  goingOut: { className: 'lamp', words: 'going out' },
  out: { className: 'clear', words: 'out' },
  stopped: { className: 'stop', words: 'stopped' },
  notSent: { className: 'stop', words: 'not sent' },
}

const leftOf = ({ leftOut }: BroadcastView): number => leftOut.reduce((sum, { people }) => sum + people, 0)

const columns = [
  'Email',
  'To',
  'When',
  'State',
  '#Sent',
  '#Waiting',
  '#Held back',
  '#Refused',
  '#Left out',
  '',
]

const stopping = ref<BroadcastView | null>(null)
const { refused, attempt } = useAttempts()
const asks = computed({
  get: () => stopping.value !== null,
  set: (is) => {
    if (!is) stopping.value = null
  },
})

async function stop(): Promise<void> {
  const id = stopping.value?.id
  if (await attempt(() => change(`/broadcasts/${id}/stop`))) stopping.value = null
}
</script>

<template>
  <ListScreen title="Broadcasts" :columns="columns" :problem="problem" :empty="data?.length === 0">
    <template #tabs><OutboxTabs here="broadcasts" /></template>
    <template #none>
      Nothing has been sent to many at once yet. Narrow the list down under
      <router-link to="/people">People</router-link>, or open a segment there, and choose “With these… Send an
      email”.
    </template>
    <tr v-for="row in data ?? []" :key="row.id">
      <td>{{ row.email }}</td>
      <td class="to">
        {{ row.sentence
        }}<template v-if="row.topic">
          who agreed to <span class="tag">{{ row.topic }}</span></template
        >
      </td>
      <td class="when">
        <span class="figures">{{ whenOf(row.createdAt, session.zone, now) }}</span>
        <span class="soft">by {{ row.by }}</span>
      </td>
      <td>
        <span class="state" :class="marks[row.state].className">{{ marks[row.state].words }}</span>
        <div v-if="row.said" class="soft">{{ row.said }}</div>
      </td>
      <td class="number">{{ countOf(row.sent) }}</td>
      <td class="number">{{ countOf(row.queued) }}</td>
      <td class="number">{{ countOf(row.held) }}</td>
      <td class="number">{{ countOf(row.failed) }}</td>
      <td class="number">
        <details v-if="row.leftOut.length">
          <summary>{{ countOf(leftOf(row)) }}</summary>
          <LeftOutList :left-out="row.leftOut" />
        </details>
        <template v-else>0</template>
      </td>
      <td>
        <v-btn v-if="row.state === 'goingOut'" size="small" variant="outlined" @click="stopping = row">
          Stop
        </v-btn>
      </td>
    </tr>
    <template #more>
      <QuickDialog
        v-if="stopping"
        v-model="asks"
        :title="`Stop “${stopping.email}”`"
        does="Stop it"
        destructive
        :problem="refused"
        @done="stop"
      >
        <p>
          {{ peopleOf(stopping.queued) }} would still get it. Who has it keeps it; for the others it is held
          back, and each one’s journal says that you stopped it.
        </p>
      </QuickDialog>
    </template>
  </ListScreen>
</template>

<style scoped>
.to {
  min-width: 260px;
}

.when {
  white-space: nowrap;
}

.when .soft {
  display: block;
}

details {
  text-align: left;
}

summary {
  text-align: right;
  cursor: pointer;
}
</style>
