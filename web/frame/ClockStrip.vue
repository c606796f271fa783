<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { countOf, peopleOf, untilOf, whenOf, clockTime } from '../wording.ts'
import { useRehearsal } from './rehearsal.ts'
import StateMark from './StateMark.vue'

const rehearsal = useRehearsal()
const { data, problem, reload } = useLoaded(
  (signal) => call(api.today.clockStrip, { signal }),
  ['followups', 'email', 'workspace'],
)

// The server's clock is the right one: the browser only counts on from what it said.
const offset = ref(0)
const ticked = ref(Date.now())
watch(data, (strip) => {
  if (strip) offset.value = Date.parse(strip.now) - Date.now()
  ticked.value = Date.now()
})
useIntervalFn(() => (ticked.value = Date.now()), 1_000)
useIntervalFn(() => void reload(), 15_000)

const now = computed(() => ticked.value + offset.value)
const zone = computed(() => data.value?.zone ?? 'UTC')
const time = computed(() => clockTime(new Date(now.value).toISOString(), zone.value))

const sender = computed(() => {
  const state = data.value?.sender
  if (!state || state.state === 'clear') return { tone: 'clear', words: 'mail is going out' } as const
  const waiting = `${countOf(state.waiting)} waiting`
  return state.state === 'waiting'
    ? ({ tone: 'lamp', words: `mail: ${waiting}` } as const)
    : ({ tone: 'stop', words: `mail is held up, ${waiting}` } as const)
})
const workers = computed(() => data.value?.workers ?? 0)
</script>

<template>
  <footer class="strip" :class="{ amber: rehearsal.stage }" aria-label="Clock and state">
    <span v-if="data" class="figures clock">{{ time }}</span>
    <span v-if="data" class="zone">{{ zone }}</span>
    <span v-if="rehearsal.stage" class="rehearsing">
      Rehearsal: {{ rehearsal.stage.name }}’s clock shows
      <span class="figures">{{ whenOf(rehearsal.stage.now, zone, new Date(now).toISOString()) }}</span>
    </span>
    <span v-else-if="data?.nextDeparture" class="next">
      Next departure {{ untilOf(data.nextDeparture.at, now) }}: {{ peopleOf(data.nextDeparture.people) }},
      {{ data.nextDeparture.what }}
    </span>
    <span v-else-if="data" class="next">No departures planned</span>
    <span class="grow" />
    <StateMark v-if="problem" tone="stop">{{ problem.title }}</StateMark>
    <template v-else-if="data">
      <StateMark :tone="sender.tone">{{ sender.words }}</StateMark>
      <StateMark :tone="workers > 0 ? 'clear' : 'stop'">
        {{ workers === 0 ? 'no worker running' : workers === 1 ? '1 worker' : `${workers} workers` }}
      </StateMark>
    </template>
  </footer>
</template>

<style scoped>
.strip {
  position: fixed;
  inset: auto 0 0 0;
  z-index: 5;
  display: flex;
  align-items: center;
  gap: 16px;
  height: 32px;
  padding: 0 24px;
  background: var(--surface);
  border-top: 1px solid var(--rule);
  white-space: nowrap;
  overflow: hidden;
}

.strip.amber {
  background: var(--lamp);
  color: #14323c;
}

.amber :deep(.state) {
  color: #14323c;
}

.clock {
  font-weight: 700;
  font-size: 16px;
}

.zone {
  color: var(--ink-soft);
}

.amber .zone {
  color: #14323c;
}

.next,
.rehearsing {
  overflow: hidden;
  text-overflow: ellipsis;
}

.grow {
  flex: 1;
}

@media (max-width: 700px) {
  .strip {
    padding: 0 12px;
    gap: 10px;
  }

  .zone,
  .grow {
    display: none;
  }
}
</style>
