<script setup lang="ts" generic="Row extends { id: number }">
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from './ProblemNote.vue'
import type { Column } from './columns.ts'

/** A screen that is one table: its heads sort, and its rows are only drawn as far as one sees them. */
withDefaults(
  defineProps<{
    title: string
    columns: readonly Column<Row>[]
    /** None yet while they are being loaded. */
    rows: readonly Row[] | null
    problem: ProblemDetails | null
    /** What the rows are searched for, when they are. */
    search?: string
  }>(),
  { search: '' },
)
defineSlots<
  {
    /** Beside the title. */
    tabs?(): unknown
    /** At the right end of the head: a search, the main action. */
    action?(): unknown
    /** Between the head and the table. */
    above?(): unknown
    /** Under the table: the steps through its pages. */
    below?(): unknown
    /** What is said when there is nothing yet. */
    empty?(): unknown
    /** Dialogs. */
    more?(): unknown
  } & Record<`item.${string}`, (scope: { item: Row }) => unknown>
>()
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
    <slot name="above" />
    <div class="panel">
      <v-data-table-virtual
        :headers="columns as never"
        :items="(rows ?? []) as Row[]"
        :loading="rows === null && !problem"
        item-value="id"
        class="rows"
      >
        <template
          v-for="name in Object.keys($slots).filter((each) => each.startsWith('item.'))"
          :key="name"
          #[name]="scope"
        >
          <slot :name="name as `item.${string}`" v-bind="scope as { item: Row }" />
        </template>
        <template #[`header.actions`]><span class="visually-hidden">Actions</span></template>
        <template #no-data>
          <p class="none">
            <template v-if="search">No results for “{{ search }}”.</template>
            <slot v-else name="empty" />
          </p>
        </template>
        <template #loader><span class="visually-hidden">Loading…</span></template>
        <template #loading><p class="none soft">Loading…</p></template>
      </v-data-table-virtual>
      <slot name="below" />
    </div>
    <slot name="more" />
  </div>
</template>

<style scoped>
/* What stands above the rows takes its height from theirs. */
.rows {
  max-height: calc(100vh - var(--above-rows, 168px));
}
</style>
