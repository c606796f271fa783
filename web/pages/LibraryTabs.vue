<script setup lang="ts">
import { useRouter } from 'vue-router'
import SectionTabs from '../frame/SectionTabs.vue'
import { stationTabs } from '../places.ts'

const tabs = stationTabs(useRouter(), 'Library')
</script>

<template>
  <SectionTabs label="Parts of the Library" :tabs="tabs" />
</template>
