<script setup lang="ts">
import { useRouter } from 'vue-router'
import { stationTabs, type Station } from '../places.ts'
import SectionTabs from './SectionTabs.vue'

/** The parts of a station, beside the title of each of their screens. */
const props = defineProps<{ of: Station }>()
const tabs = stationTabs(useRouter(), props.of)
</script>

<template>
  <SectionTabs :label="`Parts of ${of}`" :tabs="tabs" />
</template>
