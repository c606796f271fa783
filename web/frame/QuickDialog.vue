<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from './ProblemNote.vue'

/** A small form over the screen, for a confirmation or something quick. Enter does it, Escape closes it. */
withDefaults(
  defineProps<{
    title: string
    does: string
    problem?: ProblemDetails | null
    ready?: boolean
    destructive?: boolean
  }>(),
  { problem: null, ready: true, destructive: false },
)
const open = defineModel<boolean>({ required: true })
defineEmits<{ done: [] }>()
</script>

<template>
  <v-dialog v-model="open" width="480" :aria-label="title">
    <form class="panel pop" novalidate @submit.prevent="$emit('done')">
      <h2>{{ title }}</h2>
      <ProblemNote :problem="problem" />
      <slot />
      <div class="buttons">
        <v-btn :color="destructive ? 'error' : 'primary'" type="submit" :disabled="!ready">{{ does }}</v-btn>
        <slot name="more" />
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.pop {
  padding: 20px;
  display: grid;
  gap: 16px;
}

.pop > h2 {
  padding: 0;
  border: 0;
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
