<script setup lang="ts">
/** The parts of a place of the line. */
defineProps<{
  label: string
  tabs: readonly { title: string; to: string; count?: string }[]
  /** The tabs differ by their query. */
  exact?: boolean
}>()
</script>

<template>
  <nav :aria-label="label">
    <v-tabs>
      <v-tab v-for="tab in tabs" :key="tab.to" :to="tab.to" :exact="exact">
        {{ tab.title }}<span v-if="tab.count" class="figures count">{{ tab.count }}</span>
      </v-tab>
    </v-tabs>
  </nav>
</template>

<style scoped>
.count {
  margin-left: 6px;
}
</style>
