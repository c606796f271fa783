<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from './ProblemNote.vue'

/** A small form over the screen, for a confirmation or something quick. Enter submits it, Escape closes it. */
withDefaults(
  defineProps<{
    title: string
    /** What the button does. */
    submitLabel: string
    problem?: ProblemDetails | null
    busy?: boolean
    destructive?: boolean
    width?: number
  }>(),
  { problem: null, busy: false, destructive: false, width: 480 },
)
const open = defineModel<boolean>({ required: true })
defineEmits<{ submit: [] }>()
</script>

<template>
  <v-dialog v-model="open" :width="width" :aria-label="title">
    <v-card :title="title">
      <v-form class="body" novalidate @submit.prevent="$emit('submit')">
        <ProblemNote :problem="problem" />
        <slot />
        <div class="buttons">
          <v-btn :color="destructive ? 'error' : 'primary'" type="submit" :loading="busy">
            {{ submitLabel }}
          </v-btn>
          <slot name="more" />
          <v-btn variant="text" @click="open = false">Cancel</v-btn>
        </div>
      </v-form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.body {
  display: grid;
  gap: 16px;
  padding: 4px 16px 16px;
}

.body :deep(p) {
  margin: 0;
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
