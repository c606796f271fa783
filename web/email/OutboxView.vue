<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import * as api from '../../contract/api.ts'
import { outboxQuery, type MessageState, type OutboxRow } from '../../contract/email.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import { actionsColumn } from '../frame/columns.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useCursorPages } from '../paging.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import OutboxProblems from './OutboxProblems.vue'
import OutboxQueue from './OutboxQueue.vue'
import OutboxTabs from './OutboxTabs.vue'

const session = useSession()
const route = useRoute()
const size = 50

const show = computed(() => outboxQuery.shape.show.safeParse(route.query.show).data ?? 'sent')
const typed = ref('')
const search = refDebounced(typed, 200)
const pages = useCursorPages(size)
watch([show, search], pages.reset)

const query = computed(() => ({
  show: show.value,
  search: search.value,
  after: pages.after.value ?? undefined,
  size,
}))
const { data, problem } = useLoaded(
  (signal) => call(api.email.outbox, { query: query.value, signal }),
  ['email'],
  () => query.value,
)
const now = useNowIso()

const marks = {
  queued: { tone: 'lamp', words: 'queued' },
  waiting: { tone: 'lamp', words: 'on hold' },
  sent: { tone: 'clear', words: 'sent' },
  held: { tone: 'soft', words: 'held back' },
  failed: { tone: 'stop', words: 'rejected' },
} as const satisfies Record<MessageState, { tone: string; words: string }>

// The outbox stands in the order in which things went out: its pages go on from there.
const columns = computed(() => [
  { title: show.value === 'sent' ? 'Sent' : 'Queued', key: 'at', sortable: false, nowrap: true },
  { title: 'State', key: 'state', sortable: false },
  { title: 'To', key: 'name', sortable: false },
  { title: 'Address', key: 'address', sortable: false },
  { title: 'Email', key: 'email', sortable: false },
  ...(show.value === 'sent' ? [] : [{ title: 'Reason', key: 'problem', sortable: false }, actionsColumn]),
])

const empty = {
  queue: 'Nothing is waiting: everything has been sent.',
  sent: 'Nothing has been sent yet.',
  problems: 'No emails were rejected or held back.',
}
const { refused, attempt } = useAttempts()
function actionsOf({ id, state }: OutboxRow): { title: string; run: () => void; destructive?: boolean }[] {
  const act = (does: 'again' | 'hurry' | 'cancel') => () => {
    void attempt(() => call(api.email[does], { params: { id } }))
  }
  if (state === 'held' || state === 'failed') return [{ title: 'Send again', run: act('again') }]
  return [
    ...(state === 'queued' ? [{ title: 'Send at once', run: act('hurry') }] : []),
    { title: 'Cancel', run: act('cancel'), destructive: true },
  ]
}
const triesOf = ({ attempts }: OutboxRow): string => `${attempts} ${attempts === 1 ? 'try' : 'tries'}`
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Outbox</h1>
      <OutboxTabs />
      <span class="grow" />
      <v-text-field v-model="typed" label="Search by person or email" max-width="280" clearable />
    </div>
    <ProblemNote :problem="refused ?? problem" />
    <OutboxProblems v-if="show === 'problems'" />
    <OutboxQueue v-if="show === 'queue'" />
    <div class="panel">
      <v-data-table-server
        :headers="columns"
        :items="data?.rows ?? []"
        :items-length="data?.rows.length ?? 0"
        :items-per-page="size"
        :loading="data === null && !problem"
        item-value="id"
        hide-default-footer
        class="rows"
      >
        <template #[`item.at`]="{ item }">
          <span class="figures">{{ whenOf(item.sentAt ?? item.queuedAt, session.zone, now) }}</span>
        </template>
        <template #[`item.state`]="{ item }">
          <StateMark :tone="marks[item.state].tone">{{ marks[item.state].words }}</StateMark>
        </template>
        <template #[`item.name`]="{ item }">
          <router-link :to="`/people/${item.contact.id}`">
            {{ item.contact.name || item.contact.address }}
          </router-link>
          <v-chip v-if="item.rehearsal" class="mark">rehearsal</v-chip>
        </template>
        <template #[`item.address`]="{ item }">{{ item.contact.address }}</template>
        <template #[`item.problem`]="{ item }">
          {{ item.problem }}
          <span v-if="item.state === 'queued' && item.attempts" class="soft">
            ({{ triesOf(item) }}, retrying by itself)
          </span>
        </template>
        <template #[`item.actions`]="{ item }">
          <ActionMenu label="Actions" size="small" :actions="actionsOf(item)" />
        </template>
        <template #[`header.actions`]><span class="visually-hidden">Actions</span></template>
        <template #no-data>
          <p class="none">{{ search ? `No results for “${search}”.` : empty[show] }}</p>
        </template>
        <template #loader><span class="visually-hidden">Loading…</span></template>
        <template #loading><p class="none soft">Loading…</p></template>
      </v-data-table-server>
      <PageSteps v-if="data?.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
    </div>
  </div>
</template>

<style scoped>
.rows {
  max-height: calc(100vh - 210px);
}

.mark {
  margin-left: 8px;
}
</style>
