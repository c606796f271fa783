<script setup lang="ts">
/** The parts of a place of the line. */
defineProps<{ label: string; tabs: readonly { title: string; to: string }[] }>()
</script>

<template>
  <nav class="tabs" :aria-label="label">
    <router-link v-for="tab in tabs" :key="tab.to" :to="tab.to">{{ tab.title }}</router-link>
  </nav>
</template>
