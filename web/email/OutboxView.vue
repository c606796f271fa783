<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { outboxList, outboxQuery, type MessageState } from '../../contract/email.ts'
import { queryOf, read } from '../api.ts'
import PageSteps from '../frame/PageSteps.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { useNowIso } from '../now.ts'
import { useCursorPages } from '../paging.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
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
  (signal) => read(`/outbox${queryOf(query.value)}`, outboxList, signal),
  ['email'],
  () => query.value,
)
const now = useNowIso()

const marks: Record<MessageState, { className: string; words: string }> = {
  queued: { className: 'lamp', words: 'waits' },
  sent: { className: 'clear', words: 'sent' },
  held: { className: 'soft', words: 'held back' },
  failed: { className: 'stop', words: 'refused' },
}

const empty = {
  queue: 'Nothing waits: everything has gone out.',
  sent: 'Nothing has been sent yet.',
  problems: 'No email was refused or held back.',
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Outbox</h1>
      <OutboxTabs :here="show" />
      <span class="grow" />
      <v-text-field v-model="typed" label="Person, address or email" max-width="280" />
    </div>
    <ProblemNote :problem="problem" />
    <div v-if="data" class="panel">
      <div class="rows" tabindex="0" role="region" aria-label="Messages">
        <table class="list">
          <thead>
            <tr>
              <th>{{ show === 'sent' ? 'Sent' : 'Queued' }}</th>
              <th>State</th>
              <th>To</th>
              <th>Address</th>
              <th>Email</th>
              <th v-if="show !== 'sent'">Why</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in data.rows" :key="row.id">
              <td class="figures time">{{ whenOf(row.sentAt ?? row.queuedAt, session.zone, now) }}</td>
              <td>
                <span class="state" :class="marks[row.state].className">{{ marks[row.state].words }}</span>
              </td>
              <td>
                <router-link :to="`/people/${row.contact.id}`">
                  {{ row.contact.name || row.contact.address }}
                </router-link>
                <span v-if="row.rehearsal" class="tag mark">rehearsal</span>
              </td>
              <td>{{ row.contact.address }}</td>
              <td>{{ row.email }}</td>
              <td v-if="show !== 'sent'">
                {{ row.problem }}
                <span v-if="row.state === 'queued' && row.attempts" class="soft">
                  ({{ row.attempts }} {{ row.attempts === 1 ? 'try' : 'tries' }}, goes on by itself)
                </span>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="!data.rows.length" class="none">{{ search ? 'Nothing matches.' : empty[show] }}</p>
      </div>
      <PageSteps v-if="data.rows.length" :pages="pages" :shown="data.rows.length" :next="data.next" />
    </div>
  </div>
</template>

<style scoped>
.rows {
  overflow: auto;
  max-height: calc(100vh - 232px);
  border-bottom: 1px solid var(--rule);
}

.time {
  white-space: nowrap;
}

.mark {
  margin-left: 8px;
}
</style>
