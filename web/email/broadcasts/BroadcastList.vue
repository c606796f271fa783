<script setup lang="ts">
import * as api from '../../../contract/api.ts'
import type { BroadcastView } from '../../../contract/broadcasts.ts'
import { call } from '../../api.ts'
import type { Column } from '../../frame/columns.ts'
import DataScreen from '../../frame/DataScreen.vue'
import StateMark from '../../frame/StateMark.vue'
import { useLoaded } from '../../loading.ts'
import { useNowIso } from '../../now.ts'
import { rateOf } from '../../rate.ts'
import { countOf, whenOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import OutboxTabs from '../OutboxTabs.vue'
import { stateMarks } from './states.ts'

const session = useSession()
const { data, problem } = useLoaded((signal) => call(api.broadcasts.list, { signal }), ['email', 'work'])
const now = useNowIso()

const leftOf = ({ leftOut }: BroadcastView): number => leftOut.reduce((sum, { people }) => sum + people, 0)

const columns: Column<BroadcastView>[] = [
  { title: 'Email', key: 'email', width: 260 },
  { title: 'To', key: 'sentence', sortable: false, width: 220 },
  { title: 'Date', key: 'goesAt', nowrap: true },
  { title: 'State', key: 'state' },
  { title: 'Sent', key: 'sent', align: 'end' },
  { title: 'Opened', key: 'opened', align: 'end' },
  { title: 'Clicked', key: 'clicked', align: 'end' },
  { title: 'Waiting', key: 'queued', align: 'end' },
  { title: 'Left out', key: 'leftOut', align: 'end', value: leftOf },
]
const rates = ['opened', 'clicked'] as const
</script>

<template>
  <DataScreen title="Broadcasts" :columns="columns" :rows="data" :problem="problem">
    <template #tabs><OutboxTabs /></template>
    <template #action>
      <v-btn color="secondary" to="/outbox/broadcasts/new">New broadcast</v-btn>
    </template>
    <template #empty>
      No broadcasts yet. Begin with New broadcast, or choose people in
      <router-link to="/people">People</router-link> and send them an email.
    </template>
    <template #[`item.email`]="{ item }">
      <router-link :to="`/outbox/broadcasts/${item.id}`">{{ item.email }}</router-link>
      <div v-if="item.test" class="soft">split test of {{ item.variants.length }}</div>
      <div v-if="item.againOf !== null" class="soft">again</div>
    </template>
    <template #[`item.sentence`]="{ item }">
      {{ item.sentence
      }}<template v-if="item.topic">
        who agreed to <v-chip>{{ item.topic }}</v-chip></template
      >
    </template>
    <template #[`item.goesAt`]="{ item }">
      <span class="figures">{{ whenOf(item.goesAt, session.zone, now) }}</span>
      <div class="soft">by {{ item.by }}</div>
    </template>
    <template #[`item.state`]="{ item }">
      <StateMark :tone="stateMarks[item.state].tone">{{ stateMarks[item.state].words }}</StateMark>
      <div v-if="item.said" class="soft">{{ item.said }}</div>
    </template>
    <template v-for="each in rates" :key="each" #[`item.${each}`]="{ item }">
      <span class="figures">{{ countOf(item[each]) }}</span>
      <div class="soft" :title="rateOf(item[each], item.sent).interval">
        {{ item.sent > 0 ? rateOf(item[each], item.sent).words : '' }}
      </div>
    </template>
    <template #[`item.sent`]="{ item }">
      <span class="figures">{{ countOf(item.sent) }}</span>
    </template>
    <template #[`item.queued`]="{ item }">
      <span class="figures">{{ countOf(item.queued) }}</span>
    </template>
    <template #[`item.leftOut`]="{ item }">
      <span class="figures">{{ countOf(leftOf(item)) }}</span>
    </template>
  </DataScreen>
</template>
