<script setup lang="ts">
import { ref, watch } from 'vue'

/** A time of day within a sentence; what is none is taken back. */
const props = defineProps<{ label: string; optional?: boolean }>()
const time = defineModel<string>({ required: true })
const typed = ref(time.value)
watch(time, (next) => (typed.value = next))
const isTime = (text: string): boolean =>
  /^([01]\d|2[0-3]):[0-5]\d$/.test(text) || (props.optional === true && text === '')
watch(typed, (text) => {
  if (isTime(text) && text !== time.value) time.value = text
})
</script>

<template>
  <v-text-field
    v-model="typed"
    class="inline time"
    :aria-label="label"
    :placeholder="optional ? 'any time' : '09:00'"
    :error="!isTime(typed)"
    @blur="isTime(typed) || (typed = time)"
  />
</template>

<style scoped>
.time {
  width: 92px;
}
</style>
