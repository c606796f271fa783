<script setup lang="ts">
import { mdiArrowDown, mdiArrowUp } from '@mdi/js'

/** Moves something up and down among others of its kind. */
defineProps<{
  /** What moves, where several can. */
  name?: string
  first?: boolean
  last?: boolean
}>()
defineEmits<{ move: [by: -1 | 1] }>()
</script>

<template>
  <v-btn
    :icon="mdiArrowUp"
    size="x-small"
    variant="text"
    :aria-label="name === undefined ? 'Move up' : `Move “${name}” up`"
    :disabled="first"
    @click="$emit('move', -1)"
  />
  <v-btn
    :icon="mdiArrowDown"
    size="x-small"
    variant="text"
    :aria-label="name === undefined ? 'Move down' : `Move “${name}” down`"
    :disabled="last"
    @click="$emit('move', 1)"
  />
</template>
