<script setup lang="ts">
import { useRouter } from 'vue-router'
import SectionTabs from '../frame/SectionTabs.vue'
import { stationTabs } from '../places.ts'

const tabs = stationTabs(useRouter(), 'People')
</script>

<template>
  <SectionTabs label="Parts of People" :tabs="tabs" />
</template>
