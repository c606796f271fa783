<script setup lang="ts">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import * as api from '../../contract/api.ts'
import type { StationView } from '../../contract/funnels.ts'
import { goals } from '../../core/funnels/funnel.ts'
import { call, linkTo } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import ThingStateMark from '../blocks/ThingStateMark.vue'
import ActionMenu from '../frame/ActionMenu.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'
import { dayOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import AddStation from './AddStation.vue'
import CopyFunnel from './CopyFunnel.vue'
import FunnelChecklist from './FunnelChecklist.vue'
import FunnelCheck from './FunnelCheck.vue'
import FunnelDiagram from './FunnelDiagram.vue'
import { countedEvery, newStationId, useLine } from './line.ts'
import StationInspector from './StationInspector.vue'

/** A funnel seen whole: its stations from left to right, who goes on from each to the next, and what hangs below. */
const props = defineProps<{ id: number }>()
const session = useSession()
const [route, router] = [useRoute(), useRouter()]
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
const {
  data: findings,
  problem: notChecked,
  reload: checkAgain,
} = useLoaded(
  (signal) => call(api.funnels.check, { params: { id: props.id }, signal }),
  ['funnels', 'pages', 'followups', 'email'],
)
const errors = computed(() => findings.value?.filter(({ level }) => level === 'error').length ?? 0)
const open = computed(() => findings.value?.filter(({ accepted }) => !accepted).length ?? 0)
const checkLabel = computed(() => {
  if (errors.value > 0) return `${errors.value} to fix`
  return open.value > 0 ? `${open.value} to consider` : 'Check passed'
})
/** The departure check stands in the place of the inspector while the address says so. */
const checking = computed({
  get: () => 'check' in route.query,
  set: (wanted: boolean) => void router.replace({ query: wanted ? { check: null } : {} }),
})
const mended = async (): Promise<void> => {
  await Promise.all([checkAgain(), reload()])
}
const line = useLine(props.id, reload)
watch(view, (found) => found && line.take(found))

const selected = ref<string | null>(null)
const station = computed(() => view.value?.stations.find(({ id }) => id === selected.value) ?? null)
// What is chosen is shown, not what was looked at before.
watch(selected, (chosen) => {
  if (chosen !== null && checking.value) checking.value = false
})
/** Where a step is being put in. */
const adding = ref<number | null>(null)
const copying = ref(false)

const { refused, busy, attempt } = useAttempts()
const params = { id: props.id }
const openTo = (to: 'nobody' | 'everybody'): Promise<boolean> =>
  attempt(async () => {
    await call(api.funnels.open, { params, body: { to } })
    await reload()
  })
/** Copies a step's page, and puts the copy behind it. */
const copyStep = ({ id, page }: StationView): Promise<boolean> =>
  attempt(async () => {
    const made = await call(api.pages.copy, { params: { id: page ?? 0 } })
    const place = line.line.value.findIndex((each) => each.id === id)
    await line.insert({ kind: 'page', id: newStationId(), page: made.id }, place + 1)
  })
const actions = computed(() => [
  { title: 'Settings', run: () => void router.push(`/funnels/${props.id}/settings`) },
  { title: 'Copy', run: () => (copying.value = true) },
  { title: 'Export', href: linkTo(api.funnels.export, { params, query: {} }) },
  {
    title: 'Export without pictures and files',
    href: linkTo(api.funnels.export, { params, query: { media: 'no' } }),
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
    ? [{ title: 'Make it a draft again', run: () => void openTo('nobody') }]
    : []),
  ...(view.value?.rehearsing ? [{ title: 'End the rehearsal', run: () => void openTo('nobody') }] : []),
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
        <StateMark v-if="view.rehearsing" tone="lamp">in rehearsal</StateMark>
        <span class="soft">{{ goals[view.goal] }}</span>
        <v-chip v-for="each in view.labels" :key="each" size="small">{{ each }}</v-chip>
        <span class="grow" />
        <v-btn
          v-if="findings"
          size="small"
          variant="outlined"
          :color="errors ? 'error' : undefined"
          :aria-pressed="checking"
          @click="checking = !checking"
        >
          {{ checkLabel }}
        </v-btn>
        <v-btn size="small" variant="outlined" :to="`/funnels/${id}/stage`">Rehearse</v-btn>
        <v-select v-model="days" class="inline" aria-label="Numbers of the last" :items="spans" />
        <ActionMenu label="More" size="small" :actions="actions" />
        <v-btn v-if="view.state === 'draft'" color="secondary" :loading="busy" @click="openTo('everybody')">
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
            :name="view.name"
            :stations="view.stations"
            :stretches="view.stretches"
            @add="(at: number) => (adding = at)"
            @move="line.move"
            @order="line.order"
            @take-out="line.takeOut"
          />
        </section>
        <aside class="panel" aria-label="Inspector">
          <FunnelCheck
            v-if="checking && findings"
            :id="id"
            :name="view.name"
            :findings="findings"
            @changed="mended"
            @close="checking = false"
          />
          <StationInspector
            v-else-if="station"
            :station="station"
            :place="view.stations.indexOf(station)"
            :among="view.stations.length"
            :taken="view.line"
            @move="(to: number) => line.move(station!.id, to)"
            @share="(other) => line.share(station!.id, other)"
            @copy="copyStep(station)"
            @take-out="line.takeOut(station!.id)"
          />
          <template v-else>
            <FunnelChecklist :id="id" :name="view.name" :errors="errors" />
            <p class="soft about">
              Choose a step to see what it does. Taking one out leaves its page, form, emails and follow-ups
              as they are. Buttons that lead to the <b>next step of the funnel</b> follow the order of the
              line.
            </p>
          </template>
        </aside>
      </div>
      <AddStation
        v-if="adding !== null"
        :taken="view.line"
        @close="adding = null"
        @add="(made) => line.insert(made, adding ?? 0)"
      />
      <CopyFunnel v-if="copying" :id="id" :name="view.name" @close="copying = false" />
    </template>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 12px;
  align-items: start;
}

.about {
  padding: 0 16px 8px;
}

@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
