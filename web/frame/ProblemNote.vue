<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'

/** What went wrong, what was kept, and what to do. */
defineProps<{ problem: ProblemDetails | null }>()
</script>

<template>
  <v-alert v-if="problem" type="error" role="alert" class="problem" :title="problem.title">
    {{ problem.detail }}
  </v-alert>
</template>

<style scoped>
.problem {
  margin-bottom: 16px;
  background: var(--surface);
}
</style>
