<script setup lang="ts">
/** A number within a sentence. An emptied field keeps what it said unless no number is an answer too. */
const props = withDefaults(
  defineProps<{
    label: string
    modelValue: number | null
    min?: number
    /** Decimals that may be typed. */
    precision?: number
    optional?: boolean
    placeholder?: string
  }>(),
  { precision: 0 },
)
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()

function take(typed: number | null): void {
  const isUsable = typed === null ? props.optional : props.min === undefined || typed >= props.min
  if (isUsable) emit('update:modelValue', typed)
}
</script>

<template>
  <v-number-input
    class="inline number"
    :aria-label="label"
    :model-value="modelValue"
    :min="min"
    :precision="precision"
    :placeholder="placeholder"
    @update:model-value="take"
  />
</template>

<style scoped>
.number {
  width: 76px;
}
</style>
