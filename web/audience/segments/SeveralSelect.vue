<script setup lang="ts">
import { computed } from 'vue'
import { none } from './subjects.ts'

/** One or more of many choices, each a chip that can be taken away. */
const props = defineProps<{ choices: readonly { value: string; title: string }[]; label: string }>()
/** At least one; what stands for none is not among the choices. */
const chosen = defineModel<readonly string[]>({ required: true })

/** Conditions compare text without regard to letters' case. */
const offeredAs = (value: string): string =>
  props.choices.find((each) => each.value.toLowerCase() === value.toLowerCase())?.value ?? value
const values = computed(() => chosen.value.filter((value) => value !== none).map(offeredAs))
const items = computed(() => {
  const gone = values.value.filter((value) => !props.choices.some((each) => each.value === value))
  return [...props.choices, ...gone.map((value) => ({ value, title: 'something deleted' }))]
})
const choose = (next: readonly string[]): void => {
  chosen.value = next.length > 0 ? next : [none]
}
</script>

<template>
  <v-autocomplete
    class="inline several"
    :aria-label="label"
    :items="items"
    :model-value="values"
    :placeholder="values.length ? undefined : 'choose'"
    multiple
    chips
    closable-chips
    hide-selected
    @update:model-value="choose"
  />
</template>

<style scoped>
.several {
  min-width: 160px;
}
</style>
