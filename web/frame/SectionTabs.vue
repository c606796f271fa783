<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'

/** The parts of a place of the line. */
const props = defineProps<{
  label: string
  tabs: readonly { title: string; to: string; count?: string }[]
}>()
const route = useRoute()

/** The tab of this screen: the same address, or the closest one above it. */
const here = computed(() => {
  const same = props.tabs.find(({ to }) => to === route.fullPath)
  const above = props.tabs.filter(({ to }) => route.path === to || route.path.startsWith(`${to}/`))
  return (same ?? above.sort((a, b) => b.to.length - a.to.length)[0])?.to
})
</script>

<template>
  <nav :aria-label="label">
    <v-tabs :model-value="here">
      <v-tab v-for="tab in tabs" :key="tab.to" :value="tab.to" :to="tab.to" exact>
        {{ tab.title }}<span v-if="tab.count" class="figures count">{{ tab.count }}</span>
      </v-tab>
    </v-tabs>
  </nav>
</template>

<style scoped>
/* As wide as their words: the longest line of tabs has room beside its title. */
.v-tab {
  min-width: 0;
  padding-inline: 12px;
}

.count {
  margin-left: 6px;
}
</style>
