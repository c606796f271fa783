<script setup lang="ts">
import {
  mdiAccountVoice,
  mdiArrowRightThin,
  mdiCallSplit,
  mdiCheckCircleOutline,
  mdiClockEnd,
  mdiCloseCircleOutline,
  mdiEmailOutline,
  mdiFlagOutline,
  mdiFormTextbox,
  mdiMessageTextOutline,
  mdiPercentOutline,
  mdiPlusCircleOutline,
  mdiTagOffOutline,
  mdiTagOutline,
  mdiTicketPercentOutline,
  mdiTimerSandEmpty,
  mdiWebhook,
} from '@mdi/js'
import { computed } from 'vue'
import type { StepView, TimetableView } from '../../contract/followups.ts'
import { countOf } from '../wording.ts'
import { drawTimetable } from './geometry.ts'

const props = defineProps<{ timetable: TimetableView; steps: StepView[]; dates: string[] | null }>()
const selected = defineModel<string | null>({ required: true })

const views = computed(() => new Map(props.steps.map((step) => [step.id, step])))
const drawing = computed(() => drawTimetable(props.timetable, (id) => views.value.get(id)?.kind ?? 'end'))

/** Okabe and Ito's colour-blind safe palette (2008); a lane also has its name and its dash. */
const palette = ['#0E5A6B', '#0072B2', '#D55E00', '#009E73', '#CC79A7', '#E69F00', '#56B4E9']
const dashes = ['', '', '10 5', '3 4', '14 4 3 4']
const colourOf = (lane: number): string => palette[lane % palette.length] ?? '#0E5A6B'
const dashOf = (lane: number): string => dashes[lane % dashes.length] ?? ''

/** A wait is drawn as its track, and an end as a stop: they need no sign. */
const icons: Record<StepView['kind'], string | undefined> = {
  send: mdiEmailOutline,
  sendText: mdiMessageTextOutline,
  notifyTeam: mdiAccountVoice,
  waitFor: undefined,
  waitDay: undefined,
  waitTime: undefined,
  waitDate: undefined,
  waitRelative: undefined,
  waitUntil: mdiTimerSandEmpty,
  branch: mdiCallSplit,
  split: mdiPercentOutline,
  addTag: mdiTagOutline,
  removeTag: mdiTagOffOutline,
  setField: mdiFormTextbox,
  givePoints: mdiPlusCircleOutline,
  joinTopic: mdiCheckCircleOutline,
  leaveTopic: mdiCloseCircleOutline,
  startFollowup: mdiArrowRightThin,
  leaveFollowup: mdiCloseCircleOutline,
  startDeadline: mdiClockEnd,
  makeCoupon: mdiTicketPercentOutline,
  webhook: mdiWebhook,
  milestone: mdiFlagOutline,
  end: undefined,
}

const px = (n: number): string => `${n}px`

/** Steps and waits by where they stand, for the arrow keys. */
const stops = computed(() => [
  ...drawing.value.tokens.map(({ step, x, y }) => ({ step, x, y })),
  ...drawing.value.rails.flatMap(({ step, from, to, y }) => (step ? [{ step, x: (from + to) / 2, y }] : [])),
])

/** Moves the selection to the nearest stop in a direction, near lanes first. */
function move(dx: number, dy: number): void {
  const here = stops.value.find((stop) => stop.step === selected.value)
  if (!here) {
    selected.value = stops.value[0]?.step ?? null
    return
  }
  const cost = (stop: { x: number; y: number }): number =>
    dx !== 0
      ? Math.abs(stop.x - here.x) + 4 * Math.abs(stop.y - here.y)
      : Math.abs(stop.y - here.y) * 4 + Math.abs(stop.x - here.x)
  const ahead = stops.value.filter((stop) =>
    dx !== 0 ? (stop.x - here.x) * dx > 0 : (stop.y - here.y) * dy > 0,
  )
  const next = ahead.sort((a, b) => cost(a) - cost(b))[0]
  if (!next) return
  selected.value = next.step
  document.getElementById(`stop-${next.step}`)?.focus()
}
</script>

<template>
  <div
    class="timetable"
    role="group"
    aria-label="Timetable: time runs from left to right, lanes from top to bottom"
    @keydown.right.prevent="move(1, 0)"
    @keydown.left.prevent="move(-1, 0)"
    @keydown.down.prevent="move(0, 1)"
    @keydown.up.prevent="move(0, -1)"
  >
    <div class="sheet" :style="{ width: px(drawing.width), height: px(drawing.height) }">
      <div
        v-for="(column, i) in timetable.columns"
        :key="column.at"
        class="column"
        :style="{ left: px(drawing.columns[i] ?? 0) }"
      >
        <span class="figures">{{ dates?.[i] ?? column.label }}</span>
      </div>
      <svg :width="drawing.width" :height="drawing.height" aria-hidden="true">
        <line
          v-for="(each, i) in drawing.switches"
          :key="`s${i}`"
          :x1="each.x"
          :x2="each.x"
          :y1="each.from"
          :y2="each.to"
          :stroke="colourOf(each.lane)"
          :stroke-dasharray="dashOf(each.lane)"
          stroke-width="3"
        />
        <line
          v-for="(each, i) in drawing.rails"
          :key="`r${i}`"
          :x1="each.from"
          :x2="each.to"
          :y1="each.y"
          :y2="each.y"
          :stroke="colourOf(each.lane)"
          :stroke-dasharray="dashOf(each.lane)"
          :stroke-width="each.step ? 1.5 : 3"
        />
      </svg>
      <span
        v-for="name in drawing.names"
        :key="name.lane"
        class="name"
        :style="{ left: px(name.x), top: px(name.y - 46) }"
      >
        {{ timetable.lanes[name.lane]?.label }}
      </span>
      <template v-for="rail in drawing.rails" :key="`w${rail.lane}-${rail.from}`">
        <button
          v-if="rail.step"
          :id="`stop-${rail.step}`"
          type="button"
          class="wait"
          :aria-pressed="selected === rail.step"
          :style="{ left: px((rail.from + rail.to) / 2), top: px(rail.y) }"
          @click="selected = rail.step"
        >
          {{ views.get(rail.step)?.title }}
          <span v-if="views.get(rail.step)?.waiting" class="figures">
            {{ countOf(views.get(rail.step)?.waiting ?? 0) }} here
          </span>
        </button>
      </template>
      <button
        v-for="token in drawing.tokens"
        :id="`stop-${token.step}`"
        :key="token.step"
        type="button"
        class="token"
        :class="views.get(token.step)?.kind"
        :aria-pressed="selected === token.step"
        :aria-label="views.get(token.step)?.detail"
        :style="{ left: px(token.x), top: px(token.y), width: px(token.width) }"
        @click="selected = token.step"
      >
        <v-icon
          v-if="icons[views.get(token.step)?.kind ?? 'end']"
          :icon="icons[views.get(token.step)?.kind ?? 'end']"
          size="18"
        />
        <span v-if="views.get(token.step)?.kind !== 'branch'" class="words">{{
          views.get(token.step)?.title
        }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.timetable {
  overflow: auto;
}

.sheet {
  position: relative;
  min-width: 100%;
}

svg {
  position: absolute;
  inset: 0;
}

.column {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule);
  padding: 10px 8px;
  white-space: nowrap;
  font-weight: 700;
}

.name {
  position: absolute;
  white-space: nowrap;
  color: var(--ink-soft);
}

.token,
.wait {
  position: absolute;
  transform: translateY(-50%);
  background: var(--surface);
  color: var(--ink);
  border: 1px solid var(--petrol);
  border-radius: 4px;
  cursor: pointer;
  font-size: 14px;
  line-height: 18px;
}

.token {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
  padding: 4px 8px;
  text-align: left;
}

.token.branch {
  min-height: 30px;
  padding: 0;
  justify-content: center;
  border-radius: 50%;
  border-width: 2px;
}

.token.end {
  min-height: 28px;
  border-color: var(--ink);
  border-width: 0 4px 0 0;
  border-radius: 0;
  background: none;
}

.token.addTag {
  border-style: dashed;
}

.wait {
  transform: translate(-50%, -50%);
  border-color: transparent;
  padding: 2px 8px;
  text-align: center;
  white-space: nowrap;
}

.wait .figures {
  display: block;
  font-weight: 700;
}

[aria-pressed='true'] {
  outline: 2px solid var(--petrol);
  outline-offset: 1px;
}

.words {
  overflow: hidden;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
}
</style>
