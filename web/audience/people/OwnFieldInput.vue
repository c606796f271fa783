<script setup lang="ts">
import { computed } from 'vue'
import type { Field } from '../../../core/audience/describing/field.ts'

/** The value of an own field, asked for as its kind wants it; choices stand as their ids. */
const props = defineProps<{ field: Field; fault?: string | undefined }>()
const typed = defineModel<string>({ required: true })

const types: Partial<Record<Field['kind'], string>> = { date: 'date', number: 'text', text: 'text' }
const choices = computed((): { id: string; label: string }[] => {
  if (props.field.kind === 'oneOf') return props.field.options
  return [
    { id: 'yes', label: 'yes' },
    { id: 'no', label: 'no' },
  ]
})

const chosen = computed(() => typed.value.split(';').filter(Boolean))
function choose(id: string, is: boolean): void {
  // A choice that the field does not have any more goes with the next change.
  const offered = props.field.options.map((option) => option.id)
  typed.value = offered.filter((each) => (each === id ? is : chosen.value.includes(each))).join(';')
}
</script>

<template>
  <fieldset v-if="field.kind === 'manyOf'" class="many">
    <legend>{{ field.name }}</legend>
    <label v-for="option in field.options" :key="option.id">
      <input
        class="plain"
        type="checkbox"
        :checked="chosen.includes(option.id)"
        @change="choose(option.id, ($event.target as HTMLInputElement).checked)"
      />
      {{ option.label }}
    </label>
    <span v-if="fault" class="fault">{{ fault }}</span>
  </fieldset>
  <label v-else class="field">
    {{ field.name }}
    <input
      v-if="types[field.kind]"
      v-model="typed"
      class="plain"
      :type="types[field.kind]"
      :inputmode="field.kind === 'number' ? 'decimal' : undefined"
    />
    <select v-else v-model="typed" class="plain">
      <option value="">—</option>
      <option v-if="typed && !choices.some(({ id }) => id === typed)" :value="typed">
        {{ typed }} (no longer offered)
      </option>
      <option v-for="option in choices" :key="option.id" :value="option.id">{{ option.label }}</option>
    </select>
    <span v-if="fault" class="fault">{{ fault }}</span>
  </label>
</template>

<style scoped>
.many {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0;
  padding: 0;
  border: 0;
}

.many legend {
  padding: 0;
  font-weight: 600;
}
</style>
