<script setup lang="ts">
import type { TextTest } from '../../../core/audience/segments/condition.ts'
import InlineSelect from '../../frame/InlineSelect.vue'
import { none } from './subjects.ts'

/** A test of text: how it compares, and with what. */
const test = defineModel<TextTest>({ required: true })

type Kind = TextTest['test']
const words: Record<Kind, string> = {
  isSet: 'filled in',
  is: 'that is',
  contains: 'that contains',
  startsWith: 'that starts with',
  endsWith: 'that ends with',
  isAnyOf: 'that is any of',
}
const kinds = Object.entries(words).map(([value, title]) => ({ value: value as Kind, title }))

function valuesOf(from: TextTest): string[] {
  if ('values' in from) return from.values
  return 'value' in from ? [from.value] : []
}
const typed = (): string[] => valuesOf(test.value).filter((value) => value !== none)

function make(kind: Kind, values: readonly string[]): TextTest {
  const given = values.map((each) => each.trim()).filter(Boolean)
  switch (kind) {
    case 'isSet':
      return { test: kind }
    case 'isAnyOf':
      return { test: kind, values: given.length > 0 ? given : [none] }
    case 'is':
    case 'contains':
    case 'startsWith':
    case 'endsWith':
      return { test: kind, value: given[0] ?? none }
  }
}
</script>

<template>
  <InlineSelect
    label="Comparison"
    :items="kinds"
    :model-value="test.test"
    @update:model-value="(kind) => (test = make(kind, typed()))"
  />
  <v-combobox
    v-if="test.test === 'isAnyOf'"
    class="inline words"
    aria-label="Values"
    :model-value="typed()"
    :delimiters="[',', ';']"
    multiple
    chips
    closable-chips
    @update:model-value="(values: string[]) => (test = make(test.test, values))"
  />
  <v-text-field
    v-else-if="test.test !== 'isSet'"
    class="inline words"
    aria-label="Value"
    :model-value="typed()[0] ?? ''"
    @change="test = make(test.test, [($event.target as HTMLInputElement).value])"
  />
</template>

<style scoped>
.words {
  width: 180px;
}
</style>
