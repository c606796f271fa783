<script setup lang="ts">
import { computed } from 'vue'
import type { TextTest } from '../../../core/audience/segments/condition.ts'

/** A test of text: how it compares, and with what. */
const test = defineModel<TextTest>({ required: true })

const words = {
  isSet: 'that is filled in',
  is: 'that is',
  contains: 'that contains',
  startsWith: 'that begins with',
  endsWith: 'that ends with',
  isAnyOf: 'that is one of',
} as const

const typed = computed(() =>
  'value' in test.value ? test.value.value : 'values' in test.value ? test.value.values.join(', ') : '',
)

function make(kind: keyof typeof words, text: string): TextTest {
  if (kind === 'isSet') return { test: kind }
  const value = text.trim() || '…'
  if (kind !== 'isAnyOf') return { test: kind, value }
  return {
    test: kind,
    values: value
      .split(',')
      .map((each) => each.trim())
      .filter(Boolean),
  }
}
</script>

<template>
  <select
    class="plain"
    aria-label="How it compares"
    :value="test.test"
    @change="test = make(($event.target as HTMLSelectElement).value as keyof typeof words, typed)"
  >
    <option v-for="(title, kind) in words" :key="kind" :value="kind">{{ title }}</option>
  </select>
  <input
    v-if="test.test !== 'isSet'"
    class="plain"
    aria-label="With what"
    :value="typed"
    @change="test = make(test.test, ($event.target as HTMLInputElement).value)"
  />
</template>
