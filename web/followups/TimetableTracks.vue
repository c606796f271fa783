<script setup lang="ts">
import type { Timetable } from '../../core/followups/timetable.ts'
import type { Drawing } from './geometry.ts'

/** What lies under the steps of a timetable: its moments, the tracks of its lanes, and what the lanes are called. */
defineProps<{ timetable: Timetable; drawing: Drawing }>()

/** Okabe and Ito's colour-blind safe palette (2008); a lane also has its name and its dash. */
const palette = ['#0E5A6B', '#0072B2', '#D55E00', '#009E73', '#CC79A7', '#E69F00', '#56B4E9']
const dashes = ['', '', '10 5', '3 4', '14 4 3 4']
const colourOf = (lane: number): string => palette[lane % palette.length] ?? '#0E5A6B'
const dashOf = (lane: number, isOpen = false): string =>
  isOpen ? '2 5' : (dashes[lane % dashes.length] ?? '')
const px = (n: number): string => `${n}px`
</script>

<template>
  <div
    v-for="(column, i) in timetable.columns"
    :key="i"
    class="column"
    :style="{ left: px(drawing.columns[i] ?? 0) }"
  >
    <span class="figures">{{ column.label }}</span>
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
      :stroke-dasharray="dashOf(each.lane, each.isOpen)"
      :stroke-width="each.step || each.isOpen ? 1.5 : 3"
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
</template>

<style scoped>
svg {
  position: absolute;
  inset: 0;
  pointer-events: none;
}

.column {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--rule);
  padding: 10px 8px;
  white-space: nowrap;
  font-weight: 700;
  pointer-events: none;
}

.name {
  position: absolute;
  white-space: nowrap;
  color: var(--ink-soft);
  pointer-events: none;
}
</style>
