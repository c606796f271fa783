<script setup lang="ts">
import { mdiPlus } from '@mdi/js'
import { computed, ref } from 'vue'
import { stepsIn, type StepPlace } from '../../core/followups/editing.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { allSteps, lanesOf, type Step, type StepKind } from '../../core/followups/step.ts'
import type { Timetable } from '../../core/followups/timetable.ts'
import type { Names } from '../../core/audience/segments/names.ts'
import { countOf } from '../wording.ts'
import { drawTimetable } from './geometry.ts'
import { stepKinds } from './stepKinds.ts'
import TimetableTracks from './TimetableTracks.vue'

/** What is said at a step of how it went. */
export interface StepNote {
  waiting: number
  words: string
}

/** A timetable: time from left to right, lanes from top to bottom; steps are selected, moved and put in. */
const props = defineProps<{
  timetable: Timetable
  steps: readonly Step[]
  names: Names
  notes: ReadonlyMap<string, StepNote>
  selected: string | null
  /** All that is selected. */
  stretch: readonly Step[]
  /** Steps that the check has something to say of. */
  faults: ReadonlySet<string>
  /** Steps that a rehearsal came through; null when there is none. */
  travelled?: ReadonlySet<string> | null
  readonly?: boolean
}>()
const emit = defineEmits<{
  select: [id: string | null, extend: boolean]
  insert: [at: StepPlace]
  move: [id: string, to: StepPlace]
}>()

const byId = computed(() => new Map(allSteps(props.steps).map((step) => [step.id, step])))
const kindOf = (id: string): StepKind => byId.value.get(id)?.kind ?? 'end'
const words = computed(
  () => new Map([...byId.value].map(([id, step]) => [id, describeStep(step, props.names)])),
)
const drawing = computed(() => drawTimetable(props.timetable, kindOf))
const inStretch = computed(() => new Set(props.stretch.map(({ id }) => id)))

const px = (n: number): string => `${n}px`
const holdsLanes = (id: string): boolean => {
  const step = byId.value.get(id)
  return step !== undefined && lanesOf(step).length > 0
}

/** Steps and waits by where they stand, for the arrow keys. */
const stops = computed(() => [
  ...drawing.value.tokens.map(({ step, x, y }) => ({ step, x, y })),
  ...drawing.value.rails.flatMap(({ step, from, to, y }) => (step ? [{ step, x: (from + to) / 2, y }] : [])),
])

/** Moves the selection to the nearest stop in a direction, near lanes first. */
function walk(dx: number, dy: number, extend: boolean): void {
  const here = stops.value.find((stop) => stop.step === props.selected)
  if (!here) {
    emit('select', stops.value[0]?.step ?? null, false)
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
  emit('select', next.step, extend)
  document.getElementById(`stop-${next.step}`)?.focus()
}
function onArrow(event: KeyboardEvent, dx: number, dy: number): void {
  // With Alt the step itself moves: the desk's part.
  if (event.altKey) return
  event.preventDefault()
  walk(dx, dy, event.shiftKey)
}

/** The step that is dragged, and the insert line that it hangs over. */
const dragged = ref<string | null>(null)
const over = ref<string | null>(null)
const keyOf = ({ lane, index }: StepPlace): string => `${lane} ${index}`

function begin(event: DragEvent, id: string): void {
  if (props.readonly) return
  dragged.value = id
  event.dataTransfer?.setData('text/plain', id)
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
}
function drop(at: StepPlace): void {
  if (dragged.value !== null) emit('move', dragged.value, { lane: at.lane, index: at.index })
  dragged.value = null
  over.value = null
}

/** What stands before an insert line, for who hears the screen. */
function placeWords({ lane, index }: StepPlace): string {
  const before = stepsIn(props.steps, lane)[index - 1]
  const name = props.timetable.lanes.find(({ id }) => id === lane)?.label ?? ''
  return before
    ? `Add a step after ${words.value.get(before.id)?.title ?? ''}`
    : `Add a step at the beginning of ${name}`
}
const marked = (id: string): Record<string, boolean> => ({
  chosen: inStretch.value.has(id),
  fault: props.faults.has(id),
  aside: props.travelled !== null && props.travelled !== undefined && !props.travelled.has(id),
})
</script>

<template>
  <div
    class="timetable"
    role="group"
    tabindex="-1"
    aria-label="Timetable: time runs from left to right, lanes from top to bottom"
    @keydown.right="onArrow($event, 1, 0)"
    @keydown.left="onArrow($event, -1, 0)"
    @keydown.down="onArrow($event, 0, 1)"
    @keydown.up="onArrow($event, 0, -1)"
    @click.self="emit('select', null, false)"
  >
    <div class="sheet" :style="{ width: px(drawing.width), height: px(drawing.height) }">
      <TimetableTracks :timetable="timetable" :drawing="drawing" />
      <template v-if="!readonly">
        <button
          v-for="at in drawing.inserts"
          :key="keyOf(at)"
          type="button"
          class="insert"
          :class="{ over: over === keyOf(at), open: dragged !== null }"
          :aria-label="placeWords(at)"
          :style="{ left: px(at.x), top: px(at.y) }"
          @click="emit('insert', { lane: at.lane, index: at.index })"
          @dragover.prevent="over = keyOf(at)"
          @dragleave="over = null"
          @drop.prevent="drop(at)"
        >
          <v-icon :icon="mdiPlus" size="14" />
        </button>
      </template>
      <template v-for="rail in drawing.rails" :key="`w${rail.lane}-${rail.from}`">
        <button
          v-if="rail.step"
          :id="`stop-${rail.step}`"
          type="button"
          class="wait"
          :class="marked(rail.step)"
          :aria-pressed="selected === rail.step"
          :aria-label="words.get(rail.step)?.detail"
          :style="{
            left: px((rail.from + rail.to) / 2),
            top: px(rail.y),
            maxWidth: px(rail.to - rail.from - 20),
          }"
          :draggable="!readonly"
          @dragstart="begin($event, rail.step)"
          @dragend="dragged = null"
          @click="emit('select', rail.step, $event.shiftKey)"
        >
          {{ words.get(rail.step)?.title }}
          <span v-if="notes.get(rail.step)?.waiting" class="figures">
            {{ countOf(notes.get(rail.step)?.waiting ?? 0) }} here
          </span>
        </button>
      </template>
      <button
        v-for="token in drawing.tokens"
        :id="`stop-${token.step}`"
        :key="token.step"
        type="button"
        class="token"
        :class="[kindOf(token.step), { fork: holdsLanes(token.step) }, marked(token.step)]"
        :aria-pressed="selected === token.step"
        :aria-label="words.get(token.step)?.detail"
        :title="holdsLanes(token.step) ? words.get(token.step)?.detail : undefined"
        :style="{ left: px(token.x), top: px(token.y), width: px(token.width) }"
        :draggable="!readonly"
        @dragstart="begin($event, token.step)"
        @dragend="dragged = null"
        @click="emit('select', token.step, $event.shiftKey)"
      >
        <v-icon
          v-if="stepKinds[kindOf(token.step)].icon"
          :icon="stepKinds[kindOf(token.step)].icon"
          size="18"
        />
        <span v-if="!holdsLanes(token.step)" class="words">{{ words.get(token.step)?.title }}</span>
        <small v-if="notes.get(token.step)?.words" class="below figures">{{
          notes.get(token.step)?.words
        }}</small>
        <span v-else-if="notes.get(token.step)?.waiting" class="below here figures">
          {{ countOf(notes.get(token.step)?.waiting ?? 0) }} here
        </span>
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

.token.fork {
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

.token:not(.send):not(.fork):not(.end) {
  border-style: dashed;
}

.wait {
  transform: translate(-50%, -50%);
  border-color: transparent;
  padding: 2px 8px;
  text-align: center;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.wait .figures {
  display: block;
  font-weight: 700;
}

.below {
  position: absolute;
  top: 100%;
  left: 0;
  right: 0;
  margin-top: 2px;
  line-height: 15px;
  font-size: 12px;
  color: var(--ink-soft);
}

/* A fork is narrower than its words. */
.here {
  right: auto;
  white-space: nowrap;
  font-weight: 700;
  color: var(--ink);
  background: var(--surface);
}

.chosen {
  outline: 2px solid color-mix(in srgb, var(--petrol) 45%, transparent);
  outline-offset: 1px;
}

[aria-pressed='true'] {
  outline: 2px solid var(--petrol);
  outline-offset: 1px;
}

.fault::after {
  content: '!';
  position: absolute;
  top: -9px;
  right: -9px;
  width: 18px;
  height: 18px;
  border-radius: 50%;
  background: var(--stop);
  color: #fff;
  font-size: 12px;
  font-weight: 700;
  line-height: 18px;
  text-align: center;
}

.wait.fault {
  overflow: visible;
}

.aside {
  color: var(--ink-soft);
  border-color: var(--rule);
}

.wait.aside {
  border-color: transparent;
}

.insert {
  position: absolute;
  width: 14px;
  height: 40px;
  transform: translate(-50%, -50%);
  border: 0;
  border-radius: 7px;
  background: transparent;
  color: transparent;
  cursor: pointer;
  display: grid;
  place-items: center;
  padding: 0;
  z-index: 1;
}

.insert:hover,
.insert:focus-visible,
.insert.open,
.insert.over {
  color: #fff;
  background: var(--petrol);
}

.insert.open:not(.over) {
  background: color-mix(in srgb, var(--petrol) 55%, var(--surface));
}

.words {
  overflow: hidden;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
}
</style>
