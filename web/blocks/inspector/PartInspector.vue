<script setup lang="ts">
import type { Editor } from '@tiptap/core'
import { computed } from 'vue'
import { traitsOf, type Block } from '../../../core/blocks/block.ts'
import type { Section } from '../../../core/blocks/document.ts'
import { isSection, withColumns } from '../../../core/blocks/operations.ts'
import { newPartId, type Editing } from '../editing.ts'
import FieldInput from './FieldInput.vue'
import { inspectorFields, type Field } from './fields.ts'
import InspectorHead from './InspectorHead.vue'
import RichTextTools from './RichTextTools.vue'
import { provideMergeable } from './mergeable.ts'
import ShownToInput from './ShownToInput.vue'

/** What can be set about the selected part, most used first. */
const props = defineProps<{ editing: Editing; editor: Editor | null }>()
const emit = defineEmits<{ saveSection: [section: Section]; copy: [] }>()
const { part, change, move, duplicate, remove } = props.editing

const section = computed(() => (part.value && isSection(part.value) ? part.value : null))
const block = computed(() => (part.value && !isSection(part.value) ? part.value : null))

/** Letters typed in the inspector are undone together, as those of the sheet. */
const set = (next: object): void => {
  if (part.value) change(next as Block | Section, `inspect ${part.value.id}`)
}

const layouts: { title: string; value: string }[] = [
  { title: 'One column', value: '1' },
  { title: 'Two columns', value: '1-1' },
  { title: 'Two, the left one wider', value: '2-1' },
  { title: 'Two, the right one wider', value: '1-2' },
  { title: 'Three columns', value: '1-1-1' },
  { title: 'Four columns', value: '1-1-1-1' },
]
const layout = computed({
  get: () => section.value?.columns.map(({ share }) => share).join('-') ?? '1',
  set(shares: string) {
    if (section.value) change(withColumns(section.value, shares.split('-').map(Number), newPartId))
  },
})
const shownLayouts = computed(() =>
  layouts.some(({ value }) => value === layout.value)
    ? layouts
    : [...layouts, { title: `Shares ${layout.value.replaceAll('-', ' : ')}`, value: layout.value }],
)
const sectionFields: readonly Field[] = [
  {
    path: 'look.background',
    label: 'Background',
    as: 'choice',
    items: [
      { title: 'Plain', value: 'plain' },
      { title: 'Tinted', value: 'tinted' },
      { title: 'Picture', value: 'picture' },
    ],
  },
  {
    path: 'look.width',
    label: 'Width',
    as: 'choice',
    items: [
      { title: 'As the page', value: 'page' },
      { title: 'Narrow', value: 'narrow' },
      { title: 'Full width', value: 'full' },
    ],
  },
]
const behind: Field = { path: 'look.picture', label: 'Picture behind', as: 'picture' }
const phones: Field = { path: 'hiddenOnPhones', label: 'Hide on phones', as: 'yes' }

const actions = computed(() => {
  const id = part.value?.id ?? ''
  return [
    { title: 'Duplicate', run: () => duplicate(id) },
    { title: 'Copy', run: () => emit('copy') },
    ...(section.value
      ? [{ title: 'Save to use again', run: () => section.value && emit('saveSection', section.value) }]
      : []),
    { title: 'Delete', run: () => remove(id), destructive: true },
  ]
})
provideMergeable()
</script>

<template>
  <div v-if="part" class="inspector">
    <InspectorHead
      :title="block ? traitsOf(block.kind).name : 'section'"
      :actions="actions"
      @move="(by) => part && move(part.id, by)"
    />
    <template v-if="block">
      <p v-if="block.guidance" class="guide soft">{{ block.guidance }}</p>
      <RichTextTools v-if="block.kind === 'text'" :editor="editor" />
      <FieldInput
        v-for="field in inspectorFields[block.kind]"
        :key="`${block.id} ${field.path}`"
        :field="field"
        :of="block"
        @update:of="set"
      />
    </template>
    <router-link v-if="block?.kind === 'form' && block.form !== null" :to="`/library/forms/${block.form}`">
      Edit this form
    </router-link>
    <template v-if="section">
      <v-select v-model="layout" label="Columns" :items="shownLayouts" />
      <FieldInput
        v-for="field in section.look.background === 'picture' ? [...sectionFields, behind] : sectionFields"
        :key="`${section.id} ${field.path}`"
        :field="field"
        :of="section"
        @update:of="set"
      />
    </template>
    <FieldInput :field="phones" :of="part" @update:of="set" />
    <ShownToInput
      :key="part.id"
      :model-value="part.shownTo"
      @update:model-value="(next) => set({ ...part, shownTo: next })"
    />
  </div>
</template>

<style scoped>
.inspector {
  display: grid;
  gap: 14px;
}

.guide {
  border-left: 2px solid var(--lamp);
  padding-left: 10px;
  margin: 0;
}
</style>
