<script setup lang="ts">
/** A number in a dense form; empty says that there is none. */
defineProps<{ label: string; min?: number; placeholder?: string }>()
const value = defineModel<number | null>({ required: true })

function read(event: Event): void {
  const typed = (event.target as HTMLInputElement).value
  value.value = typed === '' ? null : Number(typed)
}
</script>

<template>
  <input
    class="plain"
    type="number"
    :aria-label="label"
    :min="min"
    :placeholder="placeholder"
    :value="value"
    @change="read"
  />
</template>
