<script setup lang="ts">
import { computed } from 'vue'
import type { FieldTest, Leaf, TextTest } from '../../core/audience/condition.ts'
import { builtInField } from '../../core/audience/condition.ts'
import { builtInFieldWords } from '../../core/audience/telling.ts'
import TextTestInput from './TextTestInput.vue'
import { useVocabulary } from './vocabulary.ts'

type Question = Extract<Leaf, { kind: 'field' }>

/** A field and a test that fits its kind. */
const leaf = defineModel<Question>({ required: true })
const vocabulary = useVocabulary()

const own = computed(() => vocabulary.words.fields.find(({ id }) => id === leaf.value.field))
const kind = computed(() => own.value?.kind ?? 'text')

/** Tests by kind of field, with their words and what a new one begins with. */
const tests: Record<string, readonly { title: string; begin: FieldTest }[]> = {
  number: [
    { title: 'of at least', begin: { test: 'atLeast', value: 1 } },
    { title: 'of at most', begin: { test: 'atMost', value: 1 } },
    { title: 'of exactly', begin: { test: 'equals', value: 1 } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  date: [
    { title: 'in the last so many days', begin: { test: 'inLastDays', days: 30 } },
    { title: 'in the next so many days', begin: { test: 'inNextDays', days: 30 } },
    { title: 'on this day or later', begin: { test: 'onOrAfter', date: '2026-01-01' } },
    { title: 'on this day or earlier', begin: { test: 'onOrBefore', date: '2026-01-01' } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  yesNo: [
    { title: 'that is yes', begin: { test: 'isYes' } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  oneOf: [
    { title: 'that is', begin: { test: 'isAnyOf', values: ['…'] } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  manyOf: [
    { title: 'with', begin: { test: 'isAnyOf', values: ['…'] } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
}
const fitting = computed(() => tests[kind.value] ?? [])

const valueOf = (event: Event): string => (event.target as HTMLInputElement).value

function chooseField(value: string): void {
  const known = builtInField.safeParse(value)
  const next = known.success ? known.data : Number(value)
  const nextKind = vocabulary.words.fields.find(({ id }) => id === next)?.kind ?? 'text'
  leaf.value = { kind: 'field', field: next, test: tests[nextKind]?.[0]?.begin ?? { test: 'isSet' } }
}

function chooseTest(name: string): void {
  const found = fitting.value.find(({ begin }) => begin.test === name)
  if (found) leaf.value = { ...leaf.value, test: found.begin }
}

function set(part: Record<string, unknown>): void {
  leaf.value = { ...leaf.value, test: { ...leaf.value.test, ...part } }
}
</script>

<template>
  <select class="plain" aria-label="Field" :value="leaf.field" @change="chooseField(valueOf($event))">
    <option v-for="name in builtInField.options" :key="name" :value="name">
      {{ builtInFieldWords[name] }}
    </option>
    <option v-for="field in vocabulary.words.fields" :key="field.id" :value="field.id">
      {{ field.name }}
    </option>
    <option v-if="typeof leaf.field === 'number' && !own" :value="leaf.field">something deleted</option>
  </select>
  <TextTestInput
    v-if="kind === 'text'"
    :model-value="leaf.test as TextTest"
    @update:model-value="leaf = { ...leaf, test: $event }"
  />
  <template v-else>
    <select
      class="plain"
      aria-label="How it compares"
      :value="leaf.test.test"
      @change="chooseTest(valueOf($event))"
    >
      <option v-for="each in fitting" :key="each.begin.test" :value="each.begin.test">
        {{ each.title }}
      </option>
    </select>
    <input
      v-if="'value' in leaf.test"
      class="plain number"
      type="number"
      step="any"
      aria-label="With what"
      :value="leaf.test.value"
      @change="valueOf($event) !== '' && set({ value: Number(valueOf($event)) })"
    />
    <input
      v-if="'days' in leaf.test"
      class="plain number"
      type="number"
      min="0"
      aria-label="Days"
      :value="leaf.test.days"
      @change="valueOf($event) !== '' && set({ days: Number(valueOf($event)) })"
    />
    <input
      v-if="'date' in leaf.test"
      class="plain"
      type="date"
      aria-label="Day"
      :value="leaf.test.date"
      @change="valueOf($event) !== '' && set({ date: valueOf($event) })"
    />
    <select
      v-if="'values' in leaf.test"
      class="plain"
      aria-label="Choice"
      :value="leaf.test.values[0]"
      @change="set({ values: [valueOf($event)] })"
    >
      <option value="…" disabled>choose</option>
      <option v-for="option in own?.options ?? []" :key="option.id" :value="option.id">
        {{ option.label }}
      </option>
    </select>
  </template>
</template>

<style scoped>
.number {
  width: 84px;
}
</style>
