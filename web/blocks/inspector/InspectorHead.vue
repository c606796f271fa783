<script setup lang="ts">
import { mdiArrowDown, mdiArrowUp } from '@mdi/js'
import ActionMenu from '../../frame/ActionMenu.vue'

/** What is selected, with what can be done with it as a whole. */
defineProps<{
  title: string
  actions: readonly { title: string; run: () => void; destructive?: boolean }[]
}>()
defineEmits<{ move: [by: -1 | 1] }>()
</script>

<template>
  <header>
    <h2>{{ title }}</h2>
    <v-btn :icon="mdiArrowUp" size="small" variant="text" aria-label="Move up" @click="$emit('move', -1)" />
    <v-btn
      :icon="mdiArrowDown"
      size="small"
      variant="text"
      aria-label="Move down"
      @click="$emit('move', 1)"
    />
    <ActionMenu label="More" size="small" :actions="actions" />
  </header>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 4px;
}

header h2 {
  flex: 1;
}

header h2::first-letter {
  text-transform: uppercase;
}
</style>
