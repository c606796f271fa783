<script setup lang="ts">
import { computed } from 'vue'
import SectionTabs from '../frame/SectionTabs.vue'

/** The views of one follow-up. */
const props = defineProps<{ id: number }>()
const tabs = computed(() => [
  { title: 'Timetable', to: `/follow-ups/${props.id}` },
  { title: 'People', to: `/follow-ups/${props.id}/people` },
  { title: 'Journal', to: `/follow-ups/${props.id}/journal` },
  { title: 'Numbers', to: `/follow-ups/${props.id}/numbers` },
  { title: 'Rehearsal', to: `/follow-ups/${props.id}/rehearsal` },
])
</script>

<template><SectionTabs label="Parts of this follow-up" :tabs="tabs" /></template>
