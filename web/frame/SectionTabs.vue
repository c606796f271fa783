<script setup lang="ts">
/** The parts of a place of the line. */
defineProps<{ label: string; tabs: readonly { title: string; to: string }[] }>()
</script>

<template>
  <nav class="tabs" :aria-label="label">
    <router-link v-for="tab in tabs" :key="tab.to" :to="tab.to" exact-active-class="here">{{
      tab.title
    }}</router-link>
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}

a {
  padding: 4px 12px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  text-decoration: none;
  background: var(--surface);
}

.here {
  border-color: var(--petrol);
  background: var(--petrol);
  color: var(--surface);
  font-weight: 700;
}
</style>
