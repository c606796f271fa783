<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { freshBlock, kindsIn, traitsOf, type BlockKind } from '../../core/blocks/block.ts'
import { freshSection } from '../../core/blocks/document.ts'
import type { Medium } from '../../core/blocks/kinds/blockKind.ts'
import { copyPart, type Part, type Place } from '../../core/blocks/operations.ts'
import { newPartId } from './editing.ts'
import { useSite } from './site.ts'

/** A short list of what can be added at a place, searched by typing. */
const props = defineProps<{ at: Place | null; medium: Medium }>()
const emit = defineEmits<{ insert: [part: Part, at: Place]; close: [] }>()
const open = computed({ get: () => props.at !== null, set: (wanted) => !wanted && emit('close') })
const typed = ref('')
watch(open, () => (typed.value = ''))
const library = useSite()

interface Choice {
  title: string
  detail: string
  make: () => Part
}

const columnChoices: { title: string; shares: number[] }[] = [
  { title: 'section', shares: [1] },
  { title: 'section of two columns', shares: [1, 1] },
  { title: 'section of two columns, the left one wider', shares: [2, 1] },
  { title: 'section of two columns, the right one wider', shares: [1, 2] },
  { title: 'section of three columns', shares: [1, 1, 1] },
  { title: 'section of four columns', shares: [1, 1, 1, 1] },
]

const blockChoice = (kind: BlockKind): Choice => ({
  title: traitsOf(kind).name,
  detail: traitsOf(kind).alsoFoundBy,
  make: () => freshBlock(kind, newPartId()),
})

const choices = computed((): Choice[] => {
  const all =
    props.at?.column === null
      ? [
          ...columnChoices.map(({ title, shares }) => ({
            title,
            detail: 'columns',
            make: () => freshSection(newPartId, shares),
          })),
          ...(library.site?.savedSections ?? []).map(({ name, section }) => ({
            title: name,
            detail: 'saved section',
            make: () => copyPart(section, newPartId),
          })),
        ]
      : kindsIn(props.medium).map(blockChoice)
  const wanted = typed.value.trim().toLowerCase()
  return all.filter(({ title, detail }) => `${title} ${detail}`.toLowerCase().includes(wanted))
})

function choose(choice: Choice | null): void {
  if (choice && props.at) emit('insert', choice.make(), props.at)
  emit('close')
}
</script>

<template>
  <v-dialog v-model="open" width="420" aria-label="Add">
    <v-card class="add">
      <v-autocomplete
        v-model:search="typed"
        :model-value="null"
        :items="choices"
        item-title="title"
        item-value="title"
        return-object
        no-filter
        auto-select-first
        autofocus
        :menu-props="{ modelValue: true, maxHeight: 420 }"
        label="What to add"
        menu-icon=""
        @update:model-value="choose"
      >
        <template #no-data><v-list-item :title="`No results for “${typed}”`" /></template>
      </v-autocomplete>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.add {
  padding: 16px;
}
</style>
