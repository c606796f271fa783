<script setup lang="ts">
import { computed } from 'vue'
import type { FieldTest, Leaf, TextTest } from '../../../core/audience/segments/condition.ts'
import { builtInField } from '../../../core/audience/segments/condition.ts'
import { countryCodes, countryName } from '../../../core/audience/people/country.ts'
import { builtInFieldWords } from '../../../core/audience/segments/describe.ts'
import SeveralSelect from './SeveralSelect.vue'
import TextTestInput from './TextTestInput.vue'
import { useVocabulary } from './vocabulary.ts'

type Question = Extract<Leaf, { kind: 'field' }>

/** A field and a test that fits its kind. */
const leaf = defineModel<Question>({ required: true })
const vocabulary = useVocabulary()

const own = computed(() => vocabulary.words.fields.find(({ id }) => id === leaf.value.field))

/** What everybody has is text, but for the country, which is chosen by its name. */
function kindOf(field: Question['field']): string {
  if (field === 'country') return field
  return vocabulary.words.fields.find(({ id }) => id === field)?.kind ?? 'text'
}
const kind = computed(() => {
  const wanted = kindOf(leaf.value.field)
  // A country may have been asked for by a part of its code, as any text.
  return tests[wanted]?.some(({ begin }) => begin.test === leaf.value.test.test) ? wanted : 'text'
})

const choices = computed((): { value: string; title: string }[] => {
  if (leaf.value.field === 'country')
    return countryCodes().map((code) => ({ value: code, title: countryName(code) }))
  return (own.value?.options ?? []).map(({ id, label }) => ({ value: id, title: label }))
})

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
  country: [
    { title: 'that is', begin: { test: 'isAnyOf', values: ['…'] } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  oneOf: [
    { title: 'that is', begin: { test: 'isAnyOf', values: ['…'] } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
  manyOf: [
    { title: 'with any of', begin: { test: 'isAnyOf', values: ['…'] } },
    { title: 'with all of', begin: { test: 'hasAllOf', values: ['…'] } },
    { title: 'that is filled in', begin: { test: 'isSet' } },
  ],
}
const fitting = computed(() => tests[kind.value] ?? [])

const valueOf = (event: Event): string => (event.target as HTMLInputElement).value

function chooseField(value: string): void {
  const known = builtInField.safeParse(value)
  const next = known.success ? known.data : Number(value)
  const begin = tests[kindOf(next)]?.[0]?.begin ?? { test: 'isSet' }
  leaf.value = { kind: 'field', field: next, test: begin }
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
    <SeveralSelect
      v-if="'values' in leaf.test"
      label="Choice"
      :choices="choices"
      :between="leaf.test.test === 'hasAllOf' ? 'and' : 'or'"
      :model-value="leaf.test.values"
      @update:model-value="set({ values: $event })"
    />
  </template>
</template>

<style scoped>
.number {
  width: 84px;
}
</style>
