<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'
import ProblemNote from '../frame/ProblemNote.vue'

/** Stands where an editor will, until it is there, and says why it cannot be opened. */
defineProps<{ title: string; problem: ProblemDetails | null }>()
</script>

<template>
  <div class="screen">
    <h1>{{ title }}</h1>
    <ProblemNote :problem="problem" />
    <p v-if="!problem" class="soft">Loading…</p>
  </div>
</template>
