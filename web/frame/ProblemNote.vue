<script setup lang="ts">
import type { ProblemDetails } from '../../contract/problems.ts'

defineProps<{ problem: ProblemDetails | null }>()
</script>

<template>
  <div v-if="problem" class="problem" role="alert">
    <strong>{{ problem.title }}</strong>
    <span>{{ problem.detail }}</span>
  </div>
</template>

<style scoped>
.problem {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  border-left: 3px solid var(--stop);
  background: var(--surface);
  padding: 10px 16px;
  margin-bottom: 16px;
}

.problem strong {
  color: var(--stop);
}
</style>
