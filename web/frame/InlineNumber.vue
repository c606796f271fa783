<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'

/** A number within a sentence. What is no answer, such as an emptied field that must not be empty, is taken back. */
const props = withDefaults(
  defineProps<{
    label: string
    modelValue: number | null
    min?: number
    /** Decimals that may be typed; null is as many as one likes. */
    precision?: number | null
    optional?: boolean
    placeholder?: string
  }>(),
  { precision: 0 },
)
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()

const typed = ref(props.modelValue)
watch(
  () => props.modelValue,
  (value) => (typed.value = value),
)
/** Shows again what holds, once the field has seen what was typed. */
async function takeBack(): Promise<void> {
  await nextTick()
  typed.value = props.modelValue
}

const isAnswer = (value: number | null): boolean => {
  if (value === null) return props.optional
  return (props.min === undefined || value >= props.min) && (props.precision !== 0 || Number.isInteger(value))
}
// At once: who types and leaves has answered before the field takes anything back.
watch(
  typed,
  (value) => {
    if (value !== props.modelValue && isAnswer(value)) emit('update:modelValue', value)
  },
  { flush: 'sync' },
)
</script>

<template>
  <v-number-input
    v-model="typed"
    class="inline number"
    :aria-label="label"
    :min="min"
    :precision="precision"
    :placeholder="placeholder"
    @update:focused="(focused: boolean) => focused || void takeBack()"
  />
</template>

<style scoped>
.number {
  width: 76px;
}
</style>
