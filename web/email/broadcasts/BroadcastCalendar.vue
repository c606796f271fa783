<script setup lang="ts">
import { DateTime } from 'luxon'
import { computed, nextTick, ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import * as api from '../../../contract/api.ts'
import type { BroadcastView } from '../../../contract/broadcasts.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ChoiceToggle from '../../frame/ChoiceToggle.vue'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { useNowIso } from '../../now.ts'
import { clockTime } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import OutboxTabs from '../OutboxTabs.vue'
import { calendarSpan, calendarWeeks, daysLater, movedTo, type Span } from './calendar.ts'
import { can, stateMarks } from './states.ts'

/** When broadcasts go out and went: what is planned is moved by drag, or by the arrow keys with Shift. */
const session = useSession()
const now = useNowIso()
const { refused, attempt } = useAttempts()

const span = ref<Span>('month')
const spans: Readonly<Record<Span, string>> = { month: 'Month', week: 'Week' }
const shown = ref(now.value)
const query = computed(() => calendarSpan(shown.value, span.value, session.zone))
const { data, problem, reload } = useLoaded(
  (signal) => call(api.broadcasts.list, { query: query.value, signal }),
  ['email', 'work'],
  () => query.value,
)
const at = computed(() => DateTime.fromISO(shown.value, { zone: session.zone }))
const title = computed(() =>
  span.value === 'month'
    ? at.value.setLocale('en-GB').toFormat('LLLL yyyy')
    : `Week of ${at.value.startOf('week').setLocale('en-GB').toFormat('d LLLL yyyy')}`,
)
function step(by: number): void {
  shown.value = at.value.plus({ [span.value]: by }).toISO() ?? shown.value
}

const weeks = computed(() =>
  calendarWeeks(data.value ?? [], {
    shown: shown.value,
    span: span.value,
    zone: session.zone,
    now: now.value,
  }),
)
const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']

/** What has just been moved, for who hears the screen. */
const told = ref('')
async function move(broadcast: BroadcastView, date: string): Promise<void> {
  const local = movedTo(broadcast, date, session.zone)
  const moved = await attempt(() =>
    call(api.broadcasts.move, { params: { id: broadcast.id }, body: { local } }),
  )
  await reload()
  told.value = moved
    ? `${broadcast.email} now goes out on ${DateTime.fromISO(date).setLocale('en-GB').toFormat('cccc d LLLL')}.`
    : `${broadcast.email} stays where it was.`
}

const keys: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }
async function moveByKey(event: KeyboardEvent, broadcast: BroadcastView, date: string): Promise<void> {
  const days = keys[event.key]
  if (days === undefined || !event.shiftKey || !can(broadcast.state, 'move')) return
  event.preventDefault()
  await move(broadcast, daysLater(date, days))
  // It stands in another day by now, as another element.
  await nextTick()
  document.getElementById(`broadcast-${broadcast.id}`)?.focus()
}
function dropped(event: { item: HTMLElement; to: HTMLElement }): void {
  const broadcast = data.value?.find(({ id }) => String(id) === event.item.dataset.id)
  const date = event.to.dataset.date
  if (broadcast && date) void move(broadcast, date)
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Calendar</h1>
      <OutboxTabs />
      <span class="grow" />
      <v-btn color="secondary" to="/outbox/broadcasts/new">New broadcast</v-btn>
    </div>
    <ProblemNote :problem="refused ?? problem" />
    <div class="bar">
      <v-btn variant="text" size="small" @click="step(-1)">Previous</v-btn>
      <v-btn variant="text" size="small" @click="shown = now">Today</v-btn>
      <v-btn variant="text" size="small" @click="step(1)">Next</v-btn>
      <h2>{{ title }}</h2>
      <span class="grow" />
      <span class="soft">Move what is planned by drag, or by Shift and the arrow keys</span>
      <ChoiceToggle v-model="span" label="Span" :choices="spans" />
    </div>
    <p class="visually-hidden" role="status">{{ told }}</p>
    <table class="panel">
      <thead>
        <tr>
          <th v-for="day in days" :key="day" scope="col">{{ day }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="week in weeks" :key="week[0]?.date">
          <td
            v-for="day in week"
            :key="day.date"
            :class="{ outside: !day.inMonth, today: day.isToday, tall: span === 'week' }"
          >
            <span class="date figures">{{ Number(day.date.slice(-2)) }}</span>
            <VueDraggable
              :model-value="day.broadcasts"
              tag="ul"
              group="broadcasts"
              draggable=".movable"
              :animation="0"
              :data-date="day.date"
              @add="dropped"
            >
              <li
                v-for="each in day.broadcasts"
                :key="each.id"
                :data-id="each.id"
                :class="[stateMarks[each.state].tone, { movable: can(each.state, 'move') }]"
              >
                <router-link
                  :id="`broadcast-${each.id}`"
                  :to="`/outbox/broadcasts/${each.id}`"
                  @keydown="moveByKey($event, each, day.date)"
                >
                  <span class="figures">{{ clockTime(each.goesAt, session.zone) }}</span>
                  {{ each.email }}
                  <span class="state">{{ stateMarks[each.state].words }}</span>
                </router-link>
              </li>
            </VueDraggable>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 4px;
  margin-bottom: 8px;
}

.bar h2 {
  margin: 0 0 0 12px;
  font-size: 18px;
}

.bar .grow {
  flex: 1;
}

.bar .soft {
  margin-right: 12px;
}

table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}

th {
  padding: 6px 8px;
  font-weight: 600;
  text-align: left;
}

td {
  height: 80px;
  padding: 4px;
  border: 1px solid var(--rule);
  vertical-align: top;
}

td.tall {
  height: 420px;
}

td.outside .date {
  color: var(--ink-soft);
}

td.outside {
  background: var(--paper);
}

td.today .date {
  padding: 1px 6px;
  border: 2px solid var(--petrol);
  border-radius: 12px;
  font-weight: 700;
}

ul {
  min-height: 44px;
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}

li a {
  display: block;
  margin-bottom: 4px;
  padding: 4px 6px;
  border: 1px solid var(--rule);
  border-left: 4px solid var(--ink-soft);
  border-radius: 4px;
  background: var(--surface);
  color: inherit;
  line-height: 18px;
  text-decoration: none;
  overflow-wrap: anywhere;
}

li.clear a {
  border-left-color: var(--clear);
}

li.lamp a {
  border-left-color: var(--lamp);
}

li.stop a {
  border-left-color: var(--stop);
}

li.movable {
  cursor: grab;
}

.state {
  display: block;
  color: var(--ink-soft);
}
</style>
