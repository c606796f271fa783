<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { WorkView } from '../../contract/work.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** Long work in progress, on every screen: how far it is, and a way to cancel it; then what it did. */
const { data, reload } = useLoaded((signal) => call(api.work.list, { signal }), ['work'])
const dismissed = ref(new Set<number>())
const shown = computed(() => (data.value ?? []).filter(({ id }) => !dismissed.value.has(id)).slice(0, 3))
const isRunning = (work: WorkView): boolean => work.state === 'running' || work.state === 'waiting'
useIntervalFn(() => {
  if (shown.value.some(isRunning)) void reload()
}, 2_000)

const share = (work: WorkView): number =>
  work.total ? Math.min(100, Math.round((work.done / work.total) * 100)) : 0
const inBytes = (work: WorkView): boolean => work.step === 'reading the file'
const progressOf = (work: WorkView): string =>
  work.total === null
    ? work.step
    : `${work.step}: ${share(work)} %${inBytes(work) ? '' : ` (${countOf(work.done)} of ${countOf(work.total)})`}`

function dismiss(id: number): void {
  dismissed.value = new Set([...dismissed.value, id])
}
</script>

<template>
  <section v-if="shown.length" class="works" aria-label="Long work" aria-live="polite">
    <v-alert
      v-for="work in shown"
      :key="work.id"
      :color="work.state === 'failed' ? 'error' : 'primary'"
      :icon="false"
      role="status"
      class="work"
    >
      <div class="line">
        <strong>{{ work.title }}</strong>
        <template v-if="isRunning(work)">
          <v-progress-linear
            v-if="work.total"
            class="bar"
            :model-value="share(work)"
            :aria-label="work.title"
          />
          <span>{{ progressOf(work) }}</span>
          <v-btn
            size="small"
            variant="text"
            color="error"
            @click="call(api.work.cancel, { params: { id: work.id } })"
          >
            Cancel
          </v-btn>
        </template>
        <template v-else>
          <span>{{ work.said }}</span>
          <v-btn size="small" variant="text" @click="dismiss(work.id)">Dismiss</v-btn>
        </template>
      </div>
    </v-alert>
  </section>
</template>

<style scoped>
/* Under the line and in the flow: it covers nothing that somebody wants to press. */
.works {
  display: grid;
  gap: 8px;
  padding: 4px 24px 0;
}

.work {
  background: var(--surface);
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  color: var(--ink);
}

.bar {
  flex: 0 0 120px;
}
</style>
