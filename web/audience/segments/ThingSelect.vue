<script setup lang="ts">
import { computed } from 'vue'
import type { NamedKind } from '../../../core/audience/segments/names.ts'
import InlineSelect from '../../frame/InlineSelect.vue'
import { useVocabulary } from './vocabulary.ts'

/** Chooses a thing by its name. One that is gone shows as gone, and stays until another is chosen. */
const props = defineProps<{ kind: NamedKind; any?: string }>()
const id = defineModel<number>({ required: true })
const vocabulary = useVocabulary()

const labels: Record<NamedKind, string> = {
  emails: 'Email',
  links: 'Link',
  tags: 'Tag',
  pages: 'Page',
  forms: 'Form',
  files: 'File',
  courses: 'Course',
  topics: 'Topic',
  fields: 'Field',
  segments: 'Segment',
  scorecards: 'Scorecard',
  followups: 'Follow-up',
  products: 'Product',
  quizzes: 'Quiz',
  junctions: 'Junction',
  sessions: 'Session',
  wordings: 'Wording',
}

const things = computed(() => {
  const { names } = vocabulary.words
  return Object.entries(names[props.kind])
    .map(([key, title]) => ({ value: Number(key), title }))
    .sort((a, b) => a.title.localeCompare(b.title))
})
const gone = computed(() => id.value !== 0 && !things.value.some(({ value }) => value === id.value))
const items = computed(() => [
  ...(props.any === undefined ? [] : [{ value: 0, title: props.any }]),
  ...(gone.value ? [{ value: id.value, title: 'something deleted' }] : []),
  ...things.value,
])
</script>

<template>
  <InlineSelect
    :label="labels[kind]"
    :items="items"
    :model-value="id === 0 && any === undefined ? null : id"
    :placeholder="things.length ? 'choose' : 'none yet'"
    :invalid="gone"
    @update:model-value="(chosen) => (id = chosen)"
  />
</template>
