<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { workList, type WorkView } from '../../contract/work.ts'
import { change, read } from '../api.ts'
import { useLoaded } from '../loading.ts'
import { countOf } from '../wording.ts'

/** Long work that goes on, on every screen: how far it is, and a way to stop it; then what it did. */
const { data, reload } = useLoaded((signal) => read('/work', workList, signal), ['work'])
const dismissed = ref(new Set<number>())
const shown = computed(() => (data.value ?? []).filter(({ id }) => !dismissed.value.has(id)).slice(0, 3))
const running = (work: WorkView): boolean => work.state === 'running' || work.state === 'waiting'
useIntervalFn(() => {
  if (shown.value.some(running)) void reload()
}, 2_000)

const share = (work: WorkView): number =>
  work.total ? Math.min(100, Math.round((work.done / work.total) * 100)) : 0
const bytes = (work: WorkView): boolean => work.step === 'reading the file'
const told = (work: WorkView): string =>
  work.total === null
    ? work.step
    : `${work.step}: ${share(work)} %${bytes(work) ? '' : ` (${countOf(work.done)} of ${countOf(work.total)})`}`

function dismiss(id: number): void {
  dismissed.value = new Set([...dismissed.value, id])
}
</script>

<template>
  <section v-if="shown.length" class="works" aria-label="Long work" aria-live="polite">
    <div v-for="work in shown" :key="work.id" class="work">
      <strong>{{ work.title }}</strong>
      <template v-if="running(work)">
        <progress v-if="work.total" :value="share(work)" max="100" :aria-label="work.title" />
        <span>{{ told(work) }}</span>
        <button type="button" class="quiet stop" @click="change(`/work/${work.id}/cancel`)">Cancel</button>
      </template>
      <template v-else>
        <span :class="{ fault: work.state === 'failed' }">{{ work.said }}</span>
        <button type="button" class="quiet" @click="dismiss(work.id)">Seen</button>
      </template>
    </div>
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
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  background: var(--surface);
  border: 1px solid var(--rule);
  border-left: 3px solid var(--petrol);
  border-radius: 4px;
  padding: 8px 12px;
}

progress {
  accent-color: var(--petrol);
  width: 120px;
}
</style>
