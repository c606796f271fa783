<script setup lang="ts" generic="Value extends string | number">
/** A choice within a sentence, as wide as what is chosen. A long list is searched by typing. */
defineProps<{
  label: string
  /** Subheaders may stand among the choices. */
  items: readonly ({ title: string; value: Value } | { title: string; type: 'subheader' })[]
  modelValue: Value | null
  /** Shown while nothing is chosen. */
  placeholder?: string
  /** What is chosen does not exist any more. */
  invalid?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: Value] }>()

/** A longer list is easier searched than read. */
const readAtAGlance = 12
/** While somebody types, an autocomplete has nothing chosen; the sentence keeps what it said. */
const choose = (value: Value | null): void => {
  if (value !== null) emit('update:modelValue', value)
}
</script>

<template>
  <v-autocomplete
    v-if="items.length > readAtAGlance"
    class="inline"
    :aria-label="label"
    :items="items"
    :model-value="modelValue"
    :placeholder="placeholder"
    :error="invalid"
    :aria-invalid="invalid || undefined"
    @update:model-value="choose"
  />
  <v-select
    v-else
    class="inline"
    :aria-label="label"
    :items="items"
    :model-value="modelValue"
    :placeholder="placeholder"
    :error="invalid"
    :aria-invalid="invalid || undefined"
    @update:model-value="choose"
  />
</template>
