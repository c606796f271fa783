<script setup lang="ts">
import { ref } from 'vue'
import { api } from '../../contract/api.ts'
import type { BroadcastState, BroadcastView } from '../../contract/broadcasts.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { actionsColumn, type Column } from '../frame/columns.ts'
import DataScreen from '../frame/DataScreen.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { countOf, peopleOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import LeftOutList from './LeftOutList.vue'
import OutboxTabs from './OutboxTabs.vue'

const session = useSession()
const { data, problem } = useLoaded((signal) => call(api.broadcasts.list, { signal }), ['email', 'work'])
const now = useNowIso()

const marks = {
  preparing: { tone: 'lamp', words: 'preparing' },
  goingOut: { tone: 'lamp', words: 'sending' },
  out: { tone: 'clear', words: 'sent' },
  stopped: { tone: 'stop', words: 'stopped' },
  notSent: { tone: 'stop', words: 'not sent' },
} as const satisfies Record<BroadcastState, { tone: string; words: string }>

const leftOf = ({ leftOut }: BroadcastView): number => leftOut.reduce((sum, { people }) => sum + people, 0)

const columns: Column<BroadcastView>[] = [
  { title: 'Email', key: 'email' },
  { title: 'To', key: 'sentence', sortable: false, width: 280 },
  { title: 'Date', key: 'createdAt', nowrap: true },
  { title: 'State', key: 'state' },
  { title: 'Sent', key: 'sent', align: 'end' },
  { title: 'Waiting', key: 'queued', align: 'end' },
  { title: 'Held back', key: 'held', align: 'end' },
  { title: 'Rejected', key: 'failed', align: 'end' },
  { title: 'Left out', key: 'leftOut', align: 'end', value: leftOf },
  actionsColumn,
]
const numbers = ['sent', 'queued', 'held', 'failed'] as const

const stopping = ref<BroadcastView | null>(null)
const { refused, busy, attempt } = useAttempts()

async function stop(): Promise<void> {
  const id = stopping.value?.id ?? 0
  if (await attempt(() => call(api.broadcasts.stop, { params: { id } }))) stopping.value = null
}
</script>

<template>
  <DataScreen title="Broadcasts" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><OutboxTabs /></template>
    <template #empty>
      No broadcasts yet. Filter <router-link to="/people">People</router-link> or open a segment, then choose
      Actions, Send an email.
    </template>
    <template #[`item.sentence`]="{ item }">
      {{ item.sentence
      }}<template v-if="item.topic">
        who agreed to <v-chip>{{ item.topic }}</v-chip></template
      >
    </template>
    <template #[`item.createdAt`]="{ item }">
      <span class="figures">{{ whenOf(item.createdAt, session.zone, now) }}</span>
      <div class="soft">by {{ item.by }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <StateMark :tone="marks[item.state].tone">{{ marks[item.state].words }}</StateMark>
      <div v-if="item.said" class="soft">{{ item.said }}</div>
    </template>
    <template v-for="each in numbers" :key="each" #[`item.${each}`]="{ item }">
      <span class="figures">{{ countOf(item[each]) }}</span>
    </template>
    <template #[`item.leftOut`]="{ item }">
      <v-menu v-if="item.leftOut.length" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <v-btn
            v-bind="menu"
            size="small"
            variant="text"
            color="primary"
            class="figures"
            :aria-label="`${countOf(leftOf(item))} left out: show why`"
          >
            {{ countOf(leftOf(item)) }}
          </v-btn>
        </template>
        <v-card title="Left out"><LeftOutList :left-out="item.leftOut" class="why" /></v-card>
      </v-menu>
      <span v-else class="figures">0</span>
    </template>
    <template #[`item.actions`]="{ item }">
      <v-btn v-if="item.state === 'goingOut'" size="small" variant="outlined" @click="stopping = item">
        Stop
      </v-btn>
    </template>
    <template #more>
      <QuickDialog
        :model-value="stopping !== null"
        :title="`Stop “${stopping?.email}”?`"
        submit-label="Stop broadcast"
        destructive
        :problem="refused"
        :busy="busy"
        @update:model-value="stopping = null"
        @submit="stop"
      >
        <p>
          {{ peopleOf(stopping?.queued ?? 0) }} have not got it yet, and will not. What was sent stays sent;
          the journal of everybody else says that you stopped it.
        </p>
      </QuickDialog>
    </template>
  </DataScreen>
</template>

<style scoped>
.why {
  padding: 0 16px 16px;
}
</style>
