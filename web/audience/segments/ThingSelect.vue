<script setup lang="ts">
import { computed } from 'vue'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import { useVocabulary } from './vocabulary.ts'

/** Chooses a thing by its name. One that is gone shows as gone, and stays until another is chosen. */
const props = defineProps<{ kind: NamedKind; any?: string }>()
const id = defineModel<number>({ required: true })
const vocabulary = useVocabulary()

const choices = computed(() =>
  Object.entries(vocabulary.words.names[props.kind])
    .map(([key, name]) => ({ id: Number(key), name }))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
const gone = computed(() => id.value !== 0 && !choices.value.some((each) => each.id === id.value))
</script>

<template>
  <select
    class="plain"
    :class="{ gone }"
    :aria-label="`Which of the ${kind}`"
    :aria-invalid="gone || undefined"
    :value="id"
    @change="id = Number(($event.target as HTMLSelectElement).value)"
  >
    <option v-if="any" :value="0">{{ any }}</option>
    <option v-else-if="id === 0" :value="0" disabled>
      {{ choices.length ? 'choose' : 'there is none yet' }}
    </option>
    <option v-if="gone" :value="id">something deleted</option>
    <option v-for="each in choices" :key="each.id" :value="each.id">{{ each.name }}</option>
  </select>
</template>

<style scoped>
.gone {
  border-color: var(--stop);
  color: var(--stop);
}
</style>
