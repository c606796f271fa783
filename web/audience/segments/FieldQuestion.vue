<script setup lang="ts">
import { computed } from 'vue'
import type { FieldTest, Leaf, TextTest } from '../../../core/audience/segments/condition.ts'
import { builtInField } from '../../../core/audience/segments/condition.ts'
import type { FieldKind } from '../../../core/audience/describing/field.ts'
import { countryCodes, countryName } from '../../../core/audience/people/country.ts'
import { builtInFieldWords } from '../../../core/audience/segments/describe.ts'
import DayInput from '../../frame/DayInput.vue'
import InlineNumber from '../../frame/InlineNumber.vue'
import InlineSelect from '../../frame/InlineSelect.vue'
import SeveralSelect from './SeveralSelect.vue'
import TextTestInput from './TextTestInput.vue'
import { none } from './subjects.ts'
import { useVocabulary } from './vocabulary.ts'

type Question = Extract<Leaf, { kind: 'field' }>

/** A field and a test that fits its kind. */
const leaf = defineModel<Question>({ required: true })
const vocabulary = useVocabulary()

const own = computed(() => vocabulary.words.fields.find(({ id }) => id === leaf.value.field))

/** What everybody has is text, but for the country, which is chosen by its name. */
function kindOf(field: Question['field']): FieldKind | 'country' {
  if (field === 'country') return field
  return vocabulary.words.fields.find(({ id }) => id === field)?.kind ?? 'text'
}

const isSet = { title: 'filled in', begin: { test: 'isSet' } } as const
/** Tests by kind of field, with their words and what a new one begins with. */
const tests: Record<FieldKind | 'country', readonly { title: string; begin: FieldTest }[]> = {
  text: [isSet],
  number: [
    { title: 'of at least', begin: { test: 'atLeast', value: 1 } },
    { title: 'of at most', begin: { test: 'atMost', value: 1 } },
    { title: 'of exactly', begin: { test: 'equals', value: 1 } },
    isSet,
  ],
  date: [
    { title: 'in the last … days', begin: { test: 'inLastDays', days: 30 } },
    { title: 'in the next … days', begin: { test: 'inNextDays', days: 30 } },
    { title: 'on or after', begin: { test: 'onOrAfter', date: '2026-01-01' } },
    { title: 'on or before', begin: { test: 'onOrBefore', date: '2026-01-01' } },
    isSet,
  ],
  yesNo: [{ title: 'that is yes', begin: { test: 'isYes' } }, isSet],
  country: [{ title: 'that is any of', begin: { test: 'isAnyOf', values: [none] } }, isSet],
  oneOf: [{ title: 'that is any of', begin: { test: 'isAnyOf', values: [none] } }, isSet],
  manyOf: [
    { title: 'with any of', begin: { test: 'isAnyOf', values: [none] } },
    { title: 'with all of', begin: { test: 'hasAllOf', values: [none] } },
    isSet,
  ],
}
const kind = computed(() => {
  const wanted = kindOf(leaf.value.field)
  // A country may have been asked for by a part of its code, as any text.
  return tests[wanted].some(({ begin }) => begin.test === leaf.value.test.test) ? wanted : 'text'
})
const comparisons = computed(() =>
  tests[kind.value].map(({ title, begin }) => ({ title, value: begin.test })),
)

const fieldItems = computed(() => {
  const all = [
    ...builtInField.options.map((value) => ({
      value: value as Question['field'],
      title: builtInFieldWords[value],
    })),
    ...vocabulary.words.fields.map(({ id, name }) => ({ value: id, title: name })),
  ]
  const gone = all.every(({ value }) => value !== leaf.value.field)
  return gone ? [...all, { value: leaf.value.field, title: 'something deleted' }] : all
})
const choices = computed(() =>
  leaf.value.field === 'country'
    ? countryCodes().map((code) => ({ value: code, title: countryName(code) }))
    : (own.value?.options ?? []).map(({ id, label }) => ({ value: id, title: label })),
)

function chooseField(field: Question['field']): void {
  leaf.value = { kind: 'field', field, test: tests[kindOf(field)][0]?.begin ?? isSet.begin }
}

function chooseTest(name: FieldTest['test']): void {
  const found = tests[kind.value].find(({ begin }) => begin.test === name)
  if (found) leaf.value = { ...leaf.value, test: found.begin }
}

/** A part that fits the test which is shown. */
function set(part: Record<string, unknown>): void {
  leaf.value = { ...leaf.value, test: { ...leaf.value.test, ...part } as FieldTest }
}
</script>

<template>
  <InlineSelect
    label="Field"
    :items="fieldItems"
    :model-value="leaf.field"
    :invalid="typeof leaf.field === 'number' && !own"
    @update:model-value="chooseField"
  />
  <TextTestInput
    v-if="kind === 'text'"
    :model-value="leaf.test as TextTest"
    @update:model-value="(test) => (leaf = { ...leaf, test })"
  />
  <template v-else>
    <InlineSelect
      label="Comparison"
      :items="comparisons"
      :model-value="leaf.test.test"
      @update:model-value="chooseTest"
    />
    <InlineNumber
      v-if="leaf.test.test === 'equals' || leaf.test.test === 'atLeast' || leaf.test.test === 'atMost'"
      label="Value"
      :precision="null"
      :model-value="leaf.test.value"
      @update:model-value="(value) => set({ value })"
    />
    <InlineNumber
      v-if="'days' in leaf.test"
      label="Days"
      :min="0"
      :model-value="leaf.test.days"
      @update:model-value="(days) => set({ days })"
    />
    <DayInput
      v-if="'date' in leaf.test"
      class="inline day"
      aria-label="Day"
      :model-value="leaf.test.date"
      @update:model-value="(date) => date && set({ date })"
    />
    <SeveralSelect
      v-if="'values' in leaf.test"
      label="Values"
      :choices="choices"
      :model-value="leaf.test.values"
      @update:model-value="(values) => set({ values })"
    />
  </template>
</template>

<style scoped>
.day {
  width: 150px;
}
</style>
