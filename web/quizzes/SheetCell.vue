<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

/** A cell of the score sheet. What is being typed stays, whatever changes around it meanwhile. */
const props = defineProps<{ shown: string; label: string }>()
const emit = defineEmits<{ change: [typed: string] }>()
const typed = ref(props.shown)
watch(
  () => props.shown,
  (shown) => (typed.value = shown),
)
/** Says what was typed, and shows what came of it: what is no answer is taken back. */
async function done(): Promise<void> {
  emit('change', typed.value)
  await nextTick()
  typed.value = props.shown
}
</script>

<template>
  <v-text-field v-model="typed" :aria-label="label" class="inline cell" @change="done" />
</template>

<style scoped>
/* A sheet of numbers without a frame around each: the frame of a cell shows where one points or types. */
.cell :deep(.v-field:not(:hover, .v-field--focused) .v-field__outline) {
  visibility: hidden;
}

.cell.figures :deep(input) {
  text-align: center;
}
</style>
