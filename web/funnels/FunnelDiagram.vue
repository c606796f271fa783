<script setup lang="ts">
import { mdiCallSplit, mdiHelp, mdiPlus } from '@mdi/js'
import { VueDraggable, type SortableEvent } from 'vue-draggable-plus'
import { computed, ref, watch } from 'vue'
import type { StationView, StretchView } from '../../contract/funnels.ts'
import { purposes } from '../../core/pages/page.ts'
import FollowupState from '../followups/FollowupState.vue'
import { useNowIso } from '../now.ts'
import PageMiniature from '../pages/PageMiniature.vue'
import { countOf, peopleOf, whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'
import FunnelStretch from './FunnelStretch.vue'
import { shortName } from './line.ts'

/** The line of a funnel: stations with what hangs below them, and between them how many go on. */
const props = defineProps<{
  /** Of the funnel: what is named after it is called by the rest. */
  name: string
  stations: readonly StationView[]
  stretches: readonly StretchView[]
}>()
const emit = defineEmits<{
  add: [at: number]
  move: [station: string, to: number]
  order: [ids: string[]]
  takeOut: [station: string]
}>()
const selected = defineModel<string | null>({ required: true })
const session = useSession()
const now = useNowIso()

/** In the order that a drag leaves; what the server says takes its place. */
const order = ref<StationView[]>([])
watch(
  () => props.stations,
  (found) => (order.value = [...found]),
  { immediate: true },
)
const dropped = (event: SortableEvent): void => {
  if (event.oldIndex !== event.newIndex)
    emit(
      'order',
      order.value.map(({ id }) => id),
    )
}

/** Stretches run between pages: what is elsewhere counts nobody. */
const stretchAfter = computed(() => {
  const pages = props.stations.filter(
    ({ page, junction, quiz, state }) =>
      page !== null || (state === 'gone' && junction === null && quiz === null),
  )
  return new Map(pages.slice(0, -1).map(({ id }, i) => [id, props.stretches[i]]))
})
const kindOf = ({ purpose, junction, quiz }: StationView): string => {
  if (purpose) return purposes[purpose].name
  if (quiz !== null) return 'quiz'
  return junction === null ? 'address elsewhere' : 'junction'
}
const stateWords: Readonly<Record<StationView['state'], string>> = {
  draft: 'draft',
  live: 'live',
  archived: 'archived',
  outside: 'elsewhere',
  gone: 'deleted',
}

function onKey(event: KeyboardEvent, station: StationView, place: number): void {
  const neighbour = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (neighbour !== undefined) {
    event.preventDefault()
    if (event.altKey) emit('move', station.id, place + neighbour)
    else document.getElementById(`station-${props.stations[place + neighbour]?.id}`)?.focus()
  } else if (event.key === 'Delete') emit('takeOut', station.id)
  else if (event.key === 'Insert') emit('add', place + 1)
  else if (event.key === 'Escape') selected.value = null
}
</script>

<template>
  <div class="scroll" tabindex="0" role="group" aria-label="Line of the funnel, from left to right">
    <v-btn
      class="first"
      :icon="mdiPlus"
      size="x-small"
      variant="outlined"
      aria-label="Add a step at the beginning"
      @click="emit('add', 0)"
    />
    <VueDraggable v-model="order" tag="ol" handle=".stop" :animation="0" @update="dropped">
      <li v-for="(station, i) in order" :key="station.id">
        <div class="station">
          <button
            :id="`station-${station.id}`"
            type="button"
            class="stop"
            :class="{ hidden: station.state !== 'live' && station.state !== 'outside' }"
            :aria-pressed="selected === station.id"
            @click="selected = station.id"
            @keydown="onKey($event, station, i)"
          >
            <PageMiniature v-if="station.preview" :src="station.preview" :width="132" />
            <span v-else class="elsewhere" aria-hidden="true">
              <v-icon v-if="station.junction" :icon="mdiCallSplit" />
              <v-icon v-else-if="station.quiz" :icon="mdiHelp" />
              <template v-else>↗</template>
            </span>
            <span v-if="station.other" class="fork" aria-hidden="true" />
            <span class="ring" aria-hidden="true" />
            <strong>{{ shortName(station.title, name) }}</strong>
            <span class="soft">
              {{ kindOf(station) }},
              {{ stateWords[station.state] }}
            </span>
          </button>
          <div v-if="station.other" class="track">
            <PageMiniature v-if="station.other.preview" :src="station.other.preview" :width="132" />
            <strong>{{ shortName(station.other.title, name) }}</strong>
            <span class="soft">
              {{ station.other.share }} % of the visitors get it, {{ stateWords[station.other.state] }}
            </span>
            <p class="figures">
              {{ countOf(station.other.visitors) }} visitors<template v-if="station.other.contacts !== null">
                · {{ countOf(station.other.contacts) }} signed up</template
              >
            </p>
          </div>
          <p class="figures">
            <span v-if="station.other" class="soft">first page: </span>
            <span v-if="station.page">{{ countOf(station.visitors) }} visitors</span>
            <span v-else-if="station.junction">{{ countOf(station.visitors) }} sent on</span>
            <span v-else-if="station.quiz">{{ countOf(station.visitors) }} began</span>
            <span v-if="station.contacts !== null"> · {{ countOf(station.contacts) }} signed up</span>
          </p>
          <ul
            v-if="station.followups.length"
            class="hanging"
            :aria-label="`Follow-ups below ${station.title}`"
          >
            <li v-for="each in station.followups" :key="each.id">
              <router-link :to="`/follow-ups/${each.id}`">{{ shortName(each.name, name) }}</router-link>
              <FollowupState :state="each.state" />
              <span class="soft">
                {{ peopleOf(each.inside) }} inside<template v-if="each.nextDueAt"
                  >, next
                  <span class="figures">{{ whenOf(each.nextDueAt, session.zone, now) }}</span></template
                >
              </span>
              <ul class="emails">
                <li v-for="(email, n) in each.emails" :key="n">
                  <router-link :to="`/library/emails/${email.id}`">{{
                    shortName(email.name, name)
                  }}</router-link>
                </li>
              </ul>
            </li>
          </ul>
        </div>
        <FunnelStretch
          :stretch="stretchAfter.get(station.id)"
          :after="station.title"
          :last="i === order.length - 1"
          @add="emit('add', i + 1)"
        />
      </li>
    </VueDraggable>
    <p v-if="!stations.length" class="soft empty">No step yet: add the page that people come to first.</p>
  </div>
</template>

<style scoped>
.scroll {
  display: flex;
  align-items: flex-start;
  padding: 20px 16px;
  overflow-x: auto;
  min-height: 420px;
}

.first {
  flex: none;
  margin-top: 104px;
}

.scroll > ol {
  display: flex;
  list-style: none;
  margin: 0;
  padding: 0;
}

.scroll > ol > li {
  display: flex;
  flex: none;
}

.station {
  width: 176px;
}

.stop {
  position: relative;
  display: grid;
  justify-items: center;
  width: 100%;
  padding: 0 6px 6px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: inherit;
  font: inherit;
  text-align: center;
  cursor: grab;
}

.stop[aria-pressed='true'] {
  border-color: var(--petrol);
  background: color-mix(in srgb, var(--petrol) 6%, transparent);
}

.elsewhere {
  display: grid;
  place-items: center;
  width: 132px;
  height: 99px;
  border: 1px dashed var(--rule);
  font-size: 24px;
}

/* The line runs through the rings of its stations. */
.ring {
  position: relative;
  z-index: 1;
  width: 16px;
  height: 16px;
  margin: 10px 0;
  border: 3px solid var(--petrol);
  border-radius: 50%;
  background: var(--surface);
}

.stop::before {
  content: '';
  position: absolute;
  top: 117px;
  left: 0;
  right: 0;
  border-top: 3px solid var(--petrol);
}

.hidden .ring {
  border-style: dashed;
}

/* The second track leaves the line before the station and comes back behind it. */
.track {
  position: relative;
  display: grid;
  justify-items: center;
  margin: 14px 6px 6px;
  padding: 10px 6px 6px;
  border: 3px solid var(--petrol);
  border-top: 0;
  border-radius: 0 0 14px 14px;
  text-align: center;
}

.station > p,
.track > p {
  margin: 4px 0 8px;
  text-align: center;
}

.hanging {
  list-style: none;
  margin: 0;
  padding: 0;
}

.hanging > li {
  margin: 8px 6px 0;
  padding: 8px;
  border-left: 3px solid var(--petrol);
  background: color-mix(in srgb, var(--petrol) 5%, transparent);
}

.hanging > li {
  display: grid;
  gap: 2px;
  justify-items: start;
}

.emails {
  margin: 4px 0 0;
  padding-left: 16px;
}

.empty {
  padding: 60px 12px;
}
</style>
