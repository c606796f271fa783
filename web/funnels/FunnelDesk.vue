<script setup lang="ts">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import { goals } from '../../core/funnels/funnel.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ChecksMenu from '../blocks/ChecksMenu.vue'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import ActionMenu from '../frame/ActionMenu.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import { useLoaded } from '../loading.ts'
import { dayOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import AddStation from './AddStation.vue'
import FunnelDiagram from './FunnelDiagram.vue'
import FunnelSettings from './FunnelSettings.vue'
import { countedEvery, useLine } from './line.ts'
import StationInspector from './StationInspector.vue'

/** A funnel seen whole: its stations from left to right, who goes on from each to the next, and what hangs below. */
const props = defineProps<{ id: number }>()
const session = useSession()
const router = useRouter()
const days = ref(30)
const spans = [7, 30, 90, 365].map((value) => ({ value, title: value === 365 ? 'a year' : `${value} days` }))
const {
  data: view,
  problem,
  reload,
} = useLoaded(
  (signal) => call(api.funnels.view, { params: { id: props.id }, query: { days: days.value }, signal }),
  ['funnels', 'pages'],
  () => days.value,
)
// People come all the time: they are counted again by the minute, not at each of them.
useIntervalFn(reload, countedEvery)
const { data: findings, problem: notChecked } = useLoaded(
  (signal) => call(api.funnels.check, { params: { id: props.id }, signal }),
  ['funnels', 'pages'],
)
const line = useLine(props.id, reload)
watch(view, (found) => found && line.take(found))

const selected = ref<string | null>(null)
const station = computed(() => view.value?.stations.find(({ id }) => id === selected.value) ?? null)
/** Where a step is being put in. */
const adding = ref<number | null>(null)
const settings = ref(false)

const { refused, busy, attempt } = useAttempts()
const params = { id: props.id }
const setLive = (live: boolean): Promise<boolean> =>
  attempt(async () => {
    await call(api.funnels.goLive, { params, body: { live } })
    await reload()
  })
const actions = computed(() => [
  { title: 'Settings', run: () => (settings.value = true) },
  {
    title: 'Duplicate',
    run: () =>
      void attempt(async () => {
        const made = await call(api.funnels.copy, { params })
        await router.push(`/funnels/${made.id}`)
      }),
  },
  {
    title: view.value?.countedSince
      ? 'Count from the beginning again'
      : 'Leave out what tests made until now',
    run: () =>
      void attempt(async () => {
        await call(api.funnels.countAnew, { params, body: { anew: !view.value?.countedSince } })
        await reload()
      }),
  },
  ...(view.value?.state === 'live'
    ? [{ title: 'Make it a draft again', run: () => void setLive(false) }]
    : []),
])

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (!(event.ctrlKey || event.metaKey) || (event.target as HTMLElement).matches('input, textarea')) return
  const wanted = { z: line.undo, y: line.redo }[event.key.toLowerCase()]
  if (!wanted) return
  event.preventDefault()
  void wanted()
})
</script>

<template>
  <div class="screen">
    <ProblemNote :problem="problem ?? notChecked ?? line.refused.value ?? refused" />
    <template v-if="view">
      <div class="screen-head">
        <h1>{{ view.name }}</h1>
        <ThingStateMark :state="view.state" />
        <span class="soft">{{ goals[view.goal] }}</span>
        <v-chip v-for="each in view.labels" :key="each" size="small">{{ each }}</v-chip>
        <span class="grow" />
        <ChecksMenu v-if="findings" :findings="findings" @go="(part: string) => void router.push(part)" />
        <v-select v-model="days" class="inline" aria-label="Numbers of the last" :items="spans" />
        <ActionMenu label="More" size="small" :actions="actions" />
        <v-btn v-if="view.state === 'draft'" color="secondary" :loading="busy" @click="setLive(true)">
          Go live
        </v-btn>
      </div>
      <div class="desk">
        <section class="panel" aria-labelledby="line">
          <div class="panel-head">
            <h2 id="line">The line</h2>
            <v-btn
              :icon="mdiUndo"
              size="small"
              variant="text"
              aria-label="Undo"
              :disabled="!line.canUndo.value"
              @click="line.undo"
            />
            <v-btn
              :icon="mdiRedo"
              size="small"
              variant="text"
              aria-label="Redo"
              :disabled="!line.canRedo.value"
              @click="line.redo"
            />
            <span v-if="view.countedSince" class="soft">
              Counted since {{ dayOf(view.countedSince, session.zone) }}
            </span>
          </div>
          <FunnelDiagram
            v-model="selected"
            :stations="view.stations"
            :stretches="view.stretches"
            @add="(at: number) => (adding = at)"
            @move="line.move"
            @order="line.order"
            @take-out="line.takeOut"
          />
        </section>
        <aside class="panel" aria-label="Inspector">
          <StationInspector
            v-if="station"
            :station="station"
            :place="view.stations.indexOf(station)"
            :among="view.stations.length"
            @move="(to: number) => line.move(station!.id, to)"
            @take-out="line.takeOut(station!.id)"
          />
          <div v-else class="nothing">
            <h2>{{ view.name }}</h2>
            <p class="soft">
              Choose a step to see what it does. Its page, form, emails and follow-ups are theirs: taking a
              step out leaves them as they are.
            </p>
            <p class="soft">
              Where a button leads to the <b>next step of the funnel</b>, it follows the order of the line by
              itself, once the funnel is live.
            </p>
          </div>
        </aside>
      </div>
      <AddStation
        v-if="adding !== null"
        :taken="view.line"
        @close="adding = null"
        @add="(made) => line.insert(made, adding ?? 0)"
      />
      <FunnelSettings v-if="settings" :funnel="view" @close="settings = false" @saved="reload" />
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 12px;
  align-items: start;
}

.nothing {
  padding: 16px;
}

@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
