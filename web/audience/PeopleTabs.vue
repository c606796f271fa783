<script setup lang="ts">
import SectionTabs from '../frame/SectionTabs.vue'

const tabs = [
  { title: 'Everybody', to: '/people' },
  { title: 'Segments', to: '/people/segments' },
  { title: 'Tags', to: '/people/tags' },
  { title: 'Topics', to: '/people/topics' },
  { title: 'Fields', to: '/people/fields' },
  { title: 'Scorecards', to: '/people/scorecards' },
  { title: 'Imports', to: '/people/imports' },
] as const
</script>

<template>
  <SectionTabs label="Parts of People" :tabs="tabs" />
</template>
