<script setup lang="ts">
import { useRouter } from 'vue-router'
import SectionTabs from '../frame/SectionTabs.vue'
import { stationTabs } from '../places.ts'

const tabs = stationTabs(useRouter(), 'Results')
</script>

<template>
  <SectionTabs label="Parts of Results" :tabs="tabs" />
</template>
