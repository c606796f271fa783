<script setup lang="ts">
import SectionTabs from '../frame/SectionTabs.vue'

/** The top of each view of a follow-up: its name, and the other views. */
defineProps<{ id: number; name: string | undefined }>()
defineSlots<{
  /** Beside its name. */
  state?(): unknown
  /** At the right end. */
  default?(): unknown
}>()
const tabsOf = (id: number): { title: string; to: string }[] => [
  { title: 'Timetable', to: `/follow-ups/${id}` },
  ...(['People', 'Journal', 'Numbers', 'Rehearsal'] as const).map((title) => ({
    title,
    to: `/follow-ups/${id}/${title.toLowerCase()}`,
  })),
]
</script>

<template>
  <div class="screen-head">
    <h1>{{ name ?? 'Follow-up' }}</h1>
    <slot name="state" />
    <SectionTabs label="Parts of this follow-up" :tabs="tabsOf(id)" />
    <span class="grow" />
    <slot />
  </div>
</template>
