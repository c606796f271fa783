<script setup lang="ts">
/** A state: a ring on the line and its word; never colour alone. */
defineProps<{ tone: 'clear' | 'lamp' | 'stop' | 'soft' }>()
</script>

<template>
  <span class="state" :class="tone"><slot /></span>
</template>

<style scoped>
.state {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}

.state::before {
  content: '';
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid currentColor;
  flex: none;
}

.clear {
  color: var(--clear);
}

.clear::before,
.stop::before {
  background: currentColor;
}

.stop {
  color: var(--stop);
}

.lamp::before {
  background: var(--lamp);
  border-color: var(--ink);
}
</style>
