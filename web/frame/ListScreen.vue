<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from './ProblemNote.vue'

/** A screen that is one table: its head, the rows, and what it says when there are none. */
withDefaults(
  defineProps<{
    title: string
    /** Heads of the columns; one that begins with `#` stands over numbers, an empty one over what can be done. */
    columns: readonly string[]
    problem: ProblemDetails | null
    /** There is nothing to show. */
    empty?: boolean
  }>(),
  { empty: false },
)
defineSlots<{
  /** The rows. */
  default(): unknown
  /** Beside the title. */
  tabs?(): unknown
  /** At the right end of the head: a search, the main action. */
  action?(): unknown
  /** What is said instead of rows. */
  none?(): unknown
  /** Dialogs. */
  more?(): unknown
}>()
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>{{ title }}</h1>
      <slot name="tabs" />
      <span class="grow" />
      <slot name="action" />
    </div>
    <ProblemNote :problem="problem" />
    <div class="panel">
      <table class="list">
        <thead>
          <tr>
            <th v-for="column in columns" :key="column" :class="{ number: column.startsWith('#') }">
              <span v-if="column === ''" class="visually-hidden">What can be done</span>
              <template v-else>{{ column.replace(/^#/, '') }}</template>
            </th>
          </tr>
        </thead>
        <tbody>
          <slot />
        </tbody>
      </table>
      <p v-if="empty" class="none"><slot name="none" /></p>
    </div>
    <slot name="more" />
  </div>
</template>
